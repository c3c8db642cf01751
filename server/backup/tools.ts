import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Connection } from 'mysql2/promise';
import { asOwner, type DbConfig, connect } from '../db';

/** Errors of the programs are told up to so many characters. */
const TOLD = 600;

/**
 * Runs work with a file in which the database's programs find who to come in as: a password on the command line could
 * be read by everybody on the machine.
 */
export async function withLogin<T>(config: DbConfig, work: (option: string) => Promise<T>): Promise<T> {
  const { user, password, socketPath, host, port } = asOwner(config);
  const folder = mkdtempSync(join(tmpdir(), 'hostler-login-'));
  const file = join(folder, 'client.cnf');
  const quoted = (text: string) => `"${text.replace(/[\\"]/g, (each) => `\\${each}`)}"`;
  try {
    writeFileSync(
      file,
      [
        '[client]',
        `user=${quoted(user)}`,
        `password=${quoted(password)}`,
        ...(socketPath === undefined
          ? [`host=${quoted(host ?? '127.0.0.1')}`, `port=${port ?? 3306}`, 'protocol=tcp']
          : [`socket=${quoted(socketPath)}`]),
        '',
      ].join('\n'),
      { mode: 0o600 },
    );
    return await work(`--defaults-file=${file}`);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** A program of the database under way: its streams, and its end. */
export interface Tool {
  readonly child: ChildProcess;
  /** @throws Error with what it said where it failed, or is not installed */
  readonly ended: Promise<void>;
}

export function startTool(
  name: string,
  args: readonly string[],
  stdin: 'pipe' | 'ignore',
  env: Readonly<Record<string, string>> = {},
): Tool {
  const child = spawn(name, args, { stdio: [stdin, 'pipe', 'pipe'], env: { ...process.env, ...env } });
  let said = '';
  child.stderr?.setEncoding('utf8').on('data', (text: string) => {
    if (said.length < TOLD) said += text;
  });
  const ended = new Promise<void>((resolve, reject) => {
    child.on('error', (error: NodeJS.ErrnoException) =>
      reject(
        error.code === 'ENOENT'
          ? new Error(`${name} is not installed: on Debian it is in mariadb-client`)
          : error,
      ),
    );
    child.on('close', (code, signal) => {
      if (code === 0) resolve();
      else reject(new Error(`${name} failed (${signal ?? code}): ${said.trim().slice(0, TOLD)}`));
    });
  });
  ended.catch(() => undefined);
  return { child, ended };
}

/** A connection as the owner, to no database in particular. */
export function ownerConnection(config: DbConfig): Promise<Connection> {
  const { database: _database, ...rest } = asOwner(config);
  return connect(rest, {
    timezone: 'Z',
    charset: 'utf8mb4',
  });
}
