import { fork } from 'node:child_process';
import { createHash } from 'node:crypto';
import type { RowDataPacket } from 'mysql2/promise';
import type { ImportFound } from '../../api/call-imports';
import type { Estate } from '../../core/estate';
import { scriptAt } from '../base';
import { deleteInParts, keptDays, partOffMonths, putCalls } from '../collected';
import { inTransaction } from '../db';
import type { Services } from '../http';
import { addRecord } from '../record';
import type { FromImport, ImportTask, ToImport } from './import-messages';
import {
  dropParts,
  findCallImport,
  leftCallImports,
  moveCallImport,
  noteImport,
  readPart,
  rememberChoices,
  rememberedChoices,
  takeUp,
  type StoredImport,
} from './import-queries';

type Needs = Pick<Services, 'db' | 'keeper' | 'store' | 'now'>;

const MEMORY_MIB = 1024;
const DAY_MS = 86_400_000;
/** Files that are worked on at a time, by this server. */
const MOST_AT_WORK = 2;
const ALIVE_MS = 5000;
const atWork = new Map<number, Promise<void>>();

/** Phones by what a file may call them: a number by its endpoint, an extension by its owner’s one phone of the house. */
export function phonesByName({ people }: Estate): readonly (readonly [string, string])[] {
  return people.flatMap(({ lines, endpoints }) => {
    const own = endpoints.filter(({ number }) => number === undefined);
    return [
      ...endpoints.flatMap(({ id, number }): (readonly [string, string])[] => [
        [id, id],
        ...(number === undefined ? [] : [[number, id] as const]),
      ]),
      ...(own.length === 1 ? lines.map(({ extension }) => [extension, own[0]!.id] as const) : []),
    ];
  });
}

const isLines = (name: string): boolean => /\.(jsonl|ndjson|json)$/i.test(name);
const headingsKey = (headings: readonly string[]): string =>
  createHash('sha256').update(headings.join('\u001f').toLowerCase()).digest('hex');

/** What is done with what is handed on. */
interface Watch {
  readonly onRows: (rows: number) => Promise<void>;
  /** @returns whether to go on */
  readonly onCalls: (message: Extract<FromImport, { kind: 'calls' }>) => Promise<boolean>;
}

/** Has a file read in a process of its own. @returns what was found; null: it was stopped */
function readFile({ db }: Needs, id: number, task: ImportTask, watch: Watch): Promise<ImportFound | null> {
  const { file, execArgv } = scriptAt('server/calls/import-worker.ts');
  const reader = fork(file, [], {
    execArgv: [...execArgv, `--max-old-space-size=${MEMORY_MIB}`],
    serialization: 'advanced',
    stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
  });
  let part = 0;
  let isStopped = false;
  const send = (message: ToImport) => {
    if (reader.connected) reader.send(message);
  };
  return new Promise<ImportFound | null>((resolve, reject) => {
    const hear = async (message: FromImport): Promise<void> => {
      switch (message.kind) {
        case 'more': {
          const bytes = await readPart(db, id, part);
          part += 1;
          return send({ kind: 'part', bytes });
        }
        case 'at':
          return watch.onRows(message.rows);
        case 'calls': {
          const goesOn = await watch.onCalls(message);
          isStopped ||= !goesOn;
          return send({ kind: goesOn ? 'on' : 'stop' });
        }
        case 'done':
          return resolve(isStopped ? null : message.found);
        case 'failed':
          return reject(new Error(message.why));
      }
    };
    // One after the other: what is told in the order of the file is written in it.
    let turn = Promise.resolve();
    reader.on('message', (message: FromImport) => {
      turn = turn.then(() => hear(message)).catch(reject);
    });
    reader.on('error', reject);
    reader.on('exit', (code) =>
      turn.then(() =>
        reject(
          new Error(
            code === 0
              ? 'reading ended before its time'
              : 'this file needs more memory than it may have: is a quote never closed?',
          ),
        ),
      ),
    );
    send({ kind: 'task', task });
  }).finally(() => {
    if (reader.connected) reader.disconnect();
  });
}

async function taskOf({ store, now }: Needs, job: StoredImport, isTaking: boolean): Promise<ImportTask> {
  const { estate } = await store.current();
  return {
    isLines: isLines(job.name),
    isTaking,
    skip: isTaking ? job.calls : 0,
    choices: job.choices,
    timeZone: estate.timeZone,
    keptFromMs: now().getTime() - keptDays() * DAY_MS,
    dialling: estate.dialling,
    phones: phonesByName(estate),
  };
}

/** Runs a job of an import once the one before it has ended; with too many under way it is left for later. */
async function alive(needs: Needs, id: number, work: () => Promise<void>): Promise<void> {
  await atWork.get(id);
  if (atWork.has(id) || atWork.size >= MOST_AT_WORK) return;
  const run = touched(needs, id, work).finally(() => atWork.delete(id));
  atWork.set(id, run);
  await run;
}

/** Tells the database every few seconds that an import is still worked on; what goes wrong is told by its state. */
async function touched({ db }: Needs, id: number, work: () => Promise<void>): Promise<void> {
  const touch = () =>
    db
      .query(
        "UPDATE call_import SET seen_at = UTC_TIMESTAMP(3) WHERE id = ? AND state IN ('looking', 'taking')",
        [id],
      )
      .catch(() => undefined);
  const timer = setInterval(() => void touch(), ALIVE_MS);
  try {
    await work();
  } catch (error) {
    const job = await findCallImport(db, id);
    const why = error instanceof Error ? error.message : String(error);
    const found = { ...(job?.found ?? NOTHING), why: `${why.charAt(0).toUpperCase()}${why.slice(1)}.` };
    if (job) await noteImport(db, id, job.state, { found });
    await moveCallImport(db, id, ['looking', 'taking'], 'failed');
  } finally {
    clearInterval(timer);
  }
}
const NOTHING: ImportFound = {
  headings: [],
  choices: null,
  isUnsure: false,
  rows: 0,
  calls: 0,
  twice: 0,
  tooOld: 0,
  span: null,
  faults: [],
  faultCount: 0,
  sample: [],
  words: [],
  why: null,
};

/** Looks through a file: what its columns mean, what cannot be read. Nothing of it is taken in. */
export const lookThroughFile = (needs: Needs, id: number): Promise<void> =>
  alive(needs, id, async () => {
    const { db } = needs;
    const job = await findCallImport(db, id);
    if (job?.state !== 'looking') return;
    const watch: Watch = {
      onRows: async (rows) => void (await noteImport(db, id, 'looking', { rows })),
      onCalls: () => Promise.resolve(true),
    };
    let task = await taskOf(needs, job, false);
    let found = await readFile(needs, id, task, watch);
    // The same headings meant something before: that counts where nothing else was said.
    const known =
      found && job.choices === null ? await rememberedChoices(db, headingsKey(found.headings)) : null;
    if (known) {
      task = { ...task, choices: known };
      found = await readFile(needs, id, task, watch);
    }
    await noteImport(db, id, 'looking', {
      rows: found?.rows ?? 0,
      calls: 0,
      added: 0,
      found,
      choices: found?.choices ?? null,
    });
    await moveCallImport(db, id, ['looking'], 'looked');
  });

/** Takes a file in, a thousand calls at a time; each is written once, however often that is begun. */
export const takeIn = (needs: Needs, id: number): Promise<void> =>
  alive(needs, id, async () => {
    const { db, keeper, now } = needs;
    const job = await findCallImport(db, id);
    if (job?.state !== 'taking') return;
    const { span } = job.found ?? NOTHING;
    if (span) await partOffMonths(keeper, new Date(span[0]), new Date(span[1]));
    let { added } = job;
    const found = await readFile(needs, id, await taskOf(needs, job, true), {
      onRows: async (rows) => void (await noteImport(db, id, 'taking', { rows })),
      onCalls: async ({ records, rows, calls }) => {
        added += await putCalls(keeper, records, id);
        return noteImport(db, id, 'taking', { rows, calls, added });
      },
    });
    if (found === null) return;
    const [[row]] = await db.query<RowDataPacket[]>(
      'SELECT COUNT(*) AS n FROM call_record WHERE import_id = ?',
      [id],
    );
    await inTransaction(db, async (tx) => {
      // Whoever ended between two steps may have counted a step that was written, or none.
      await noteImport(tx, id, 'taking', {
        rows: found.rows,
        calls: found.calls,
        added: Number(row?.n ?? added),
      });
      if (!(await moveCallImport(tx, id, ['taking'], 'taken'))) return;
      if (found.choices) await rememberChoices(tx, headingsKey(found.headings), found.choices, now());
      await addRecord(tx, {
        who: job.who,
        kind: 'calls-imported',
        subject: job.name,
        detail: `${Number(row?.n ?? added)} calls`,
      });
      await dropParts(tx, id);
    });
  });

/** Deletes the calls that came with a file. */
export async function removeImported(needs: Needs, id: number, who: string): Promise<void> {
  const { db, keeper } = needs;
  const job = await findCallImport(db, id);
  if (!job) return;
  await deleteInParts(keeper, 'call_record WHERE import_id = ?', [id]);
  await inTransaction(db, async (tx) => {
    await dropParts(tx, id);
    await addRecord(tx, { who, kind: 'calls-import-removed', subject: job.name });
  });
}

/** Takes up what a server that has ended left. @param only one import; left out: all */
export async function takeUpCallImports(needs: Needs, only?: number): Promise<void> {
  for (const id of only === undefined ? await leftCallImports(needs.db) : [only]) {
    if (!(await takeUp(needs.db, id))) continue;
    const job = await findCallImport(needs.db, id);
    void (job?.state === 'looking' ? lookThroughFile(needs, id) : takeIn(needs, id));
  }
}
