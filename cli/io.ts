import { readFileSync } from 'node:fs';
import { parseArgs, type ParseArgsConfig } from 'node:util';
import { faultLine, type Estate, type Fault } from '../core/estate';
import { readEstateFile as readWhole } from '../core/routes';

export interface Command {
  readonly usage: string;
  /** @returns the exit code: 0 all well, 1 it failed, 2 bad input */
  readonly run: (args: string[]) => Promise<number>;
}

export const BAD_INPUT = 2;

/** Says one thing on standard error. @returns the exit code for bad input */
export function fail(message: string): number {
  process.stderr.write(`${message}\n`);
  return BAD_INPUT;
}

/** Says each fault on a line of its own on standard error. @returns the exit code for bad input */
export const failWith = (faults: readonly Fault[]): number => fail(faults.map(faultLine).join('\n'));

/** Something wrong with an input, told to the user as it is. */
export type Read<T> =
  | { readonly ok: true; readonly value: T }
  | { readonly ok: false; readonly message: string };

/** The options of a command, or what is wrong with them. */
export function options(
  args: string[],
  config: NonNullable<ParseArgsConfig['options']>,
): Read<Record<string, unknown>> {
  try {
    return { ok: true, value: parseArgs({ args, options: config, strict: true }).values };
  } catch (error) {
    return { ok: false, message: error instanceof Error ? error.message : String(error) };
  }
}

/** Reads a file, or standard input for `-`, as text. */
export function readText(file: string): Read<string> {
  try {
    return { ok: true, value: readFileSync(file === '-' ? 0 : file, 'utf8') };
  } catch (error) {
    return {
      ok: false,
      message: `${file}: cannot be read (${(error as NodeJS.ErrnoException).code ?? 'error'})`,
    };
  }
}

/** Reads a file, or standard input for `-`, as JSON. */
export function readJson(file: string): Read<unknown> {
  const text = readText(file);
  if (!text.ok) return text;
  try {
    return { ok: true, value: JSON.parse(text.value.replace(/^\uFEFF/, '')) as unknown };
  } catch (error) {
    return {
      ok: false,
      message: `${file}: is not JSON: ${error instanceof Error ? error.message : String(error)}`,
    };
  }
}

/** Reads and checks an estate file. */
export function readEstateFile(file: string): Read<Estate> {
  const json = readJson(file);
  if (!json.ok) return json;
  const read = readWhole(json.value);
  return read.ok
    ? { ok: true, value: read.estate }
    : { ok: false, message: read.faults.map(faultLine).join('\n') };
}
