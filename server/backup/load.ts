import { createReadStream } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import { createGunzip } from 'node:zlib';
import { startTool } from './tools';

/** Unpacks a whole dump and throws it away. @throws Error where it is torn */
export async function mustUnpack(file: string): Promise<void> {
  try {
    await pipeline(createReadStream(file), createGunzip(), async (parts: AsyncIterable<Buffer>) => {
      for await (const _part of parts);
    });
  } catch (error) {
    throw new Error(`${file} is torn: ${(error as Error).message}`);
  }
}

/** Loads a packed dump into a database that is there. @throws Error with what the database said */
export async function load(login: string, file: string, database: string): Promise<void> {
  const tool = startTool('mariadb', [login, '--default-character-set=utf8mb4', database], 'pipe');
  tool.child.stdout?.resume();
  const [fed] = await Promise.allSettled([
    pipeline(createReadStream(file), createGunzip(), tool.child.stdin!),
    tool.ended,
  ]);
  // Where the database refused a statement it stops reading: what it said is what counts.
  await tool.ended;
  if (fed.status === 'rejected') throw fed.reason;
}
