import { mkdirSync } from 'node:fs';
import { open, rename } from 'node:fs/promises';
import { join } from 'node:path';
import { recordLine, type CallRecord } from '../core/records';

/** Records that are kept in memory while the disk takes none: more are let go of, and it is said. */
const MOST_WAITING = 20_000;
const AGAIN_MS = 1000;

/** Where call records wait on the disk until a server has taken them in. */
export interface Spool {
  /**
   * Resolves once the record stands on the disk; where it could not be written the first time, it resolves all the
   * same, and is written as soon as that can be done.
   */
  readonly put: (record: CallRecord) => Promise<void>;
  /** Writes what waits. */
  readonly close: () => Promise<void>;
}

/**
 * Each file holds the records that came while the one before was being written, as JSON lines. It is written beside its
 * name, synchronized, and then given its name, whose folder is synchronized too: what has its name is whole.
 */
export function openSpool(
  folder: string,
  name: string,
  log: (line: string) => void = () => undefined,
): Spool {
  mkdirSync(folder, { recursive: true });
  let waiting: { readonly line: string; readonly tried: () => void }[] = [];
  let files = 0;
  let writing: Promise<void> | null = null;
  let again: ReturnType<typeof setTimeout> | null = null;
  let closed = false;

  async function writeFile(text: string): Promise<void> {
    const file = join(folder, `${name}-${String((files += 1)).padStart(9, '0')}.jsonl`);
    const handle = await open(`${file}.new`, 'w', 0o600);
    try {
      await handle.writeFile(text);
      await handle.sync();
    } finally {
      await handle.close();
    }
    await rename(`${file}.new`, file);
    const within = await open(folder, 'r');
    await within.sync().finally(() => within.close());
  }

  async function write(): Promise<void> {
    while (waiting.length > 0) {
      const part = waiting;
      waiting = [];
      try {
        await writeFile(part.map(({ line }) => `${line}\n`).join(''));
      } catch (error) {
        log(`call records wait for the disk: ${error instanceof Error ? error.message : String(error)}`);
        waiting = [...part, ...waiting].slice(0, MOST_WAITING);
        return;
      } finally {
        for (const { tried } of part) tried();
      }
    }
  }
  function begin(): void {
    if (writing) return;
    writing = write().finally(() => {
      writing = null;
      if (waiting.length > 0 && !closed) again ??= setTimeout(tryAgain, AGAIN_MS);
    });
  }
  function tryAgain(): void {
    again = null;
    begin();
  }

  return {
    put: (record) =>
      new Promise((tried) => {
        if (waiting.length >= MOST_WAITING) {
          log('a call record is let go of: the disk takes none');
          return tried();
        }
        waiting.push({ line: recordLine(record), tried });
        begin();
      }),
    close: async () => {
      closed = true;
      if (again) clearTimeout(again);
      await writing;
      await write();
    },
  };
}
