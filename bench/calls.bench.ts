import { randomBytes } from 'node:crypto';
import mysql from 'mysql2/promise';
import { compileEstate } from '../core/calls/engine';
import { quickRunner } from '../core/calls/outcome';
import { callOf, effectCounter, type CallRecord, callReader, matchCallColumns } from '../core/records';
import { kaplanMeier } from '../core/statistics';
import { demoPast } from '../demo/calls';
import { skerrowSoundFerries } from '../demo/skerrow';
import { callsPage } from '../server/collected/page';
import { callRow, putCalls } from '../server/collected/queries';
import { asOwner, dbConfig, migrate, openDb, openKeeper } from '../server/db';
import { finderOf } from '../core/editing';
import type { LiveEstate } from '../server/estate';

type Line = (what: string, figure: string, aim?: string) => void;
const NOW = Date.parse('2026-11-24T21:20:00Z');
const MANY = Number(process.env.HOSTLER_BENCH_CALLS ?? 200_000);
const perS = (n: number, ms: number) => `${Math.round((n / ms) * 1000).toLocaleString('en')}/s`;
const timed = async (work: () => unknown): Promise<number> => {
  const began = performance.now();
  await work();
  return performance.now() - began;
};

/** So many made-up calls: those of the demo, again and again, each time a little later. */
function manyCalls(base: readonly CallRecord[], n: number): readonly CallRecord[] {
  return Array.from({ length: n }, (_, at): CallRecord => {
    const record = base[at % base.length]!;
    const round = Math.floor(at / base.length);
    return { ...record, id: `${record.id}-${round}`, startMs: record.startMs - round * 61_000 };
  });
}

/** What is said of calls over many: against the bare thing in the same run. */
export async function callsBench(line: Line): Promise<void> {
  const estate = skerrowSoundFerries();
  const index = compileEstate(estate);
  const base = demoPast(estate, NOW, 14).records;
  const records = manyCalls(base, 40_000);

  const calls = records.map((record) => callOf(index, record));
  const bare = quickRunner(index);
  const after = compileEstate({
    ...estate,
    people: estate.people.map((person) => ({
      ...person,
      status: person.status === 'on-shift' ? 'away' : person.status,
    })),
  });
  const runner = quickRunner(after);
  // The engine alone runs each call twice: once under each estate.
  const engineMs = await timed(() => {
    for (const call of calls) {
      bare.outcomeOf(call);
      runner.outcomeOf(call);
    }
  });
  const counter = effectCounter(index, after);
  const replayMs = await timed(() => {
    for (const record of records) counter.add(record);
  });
  line('a slate over calls that went, on one core', perS(records.length, replayMs));
  line('  of the outcome engine alone', `${Math.round((engineMs / replayMs) * 100)} %`, 'half or better');

  const lifetimes = Array.from({ length: 1_000_000 }, (_, n) => ({
    ms: (n * 7919) % 60_000,
    happened: n % 3 === 0,
  }));
  line(
    'answer times of a million phones (Kaplan and Meier)',
    `${Math.round(await timed(() => kaplanMeier(lifetimes)))} ms`,
    'under 1 s',
  );

  await database(line, manyCalls(base, MANY));
}

async function database(line: Line, records: readonly CallRecord[]): Promise<void> {
  const config = { ...dbConfig(), database: `hostler_bench_${randomBytes(6).toString('hex')}` };
  const { database: name, ...server } = asOwner(config);
  const admin = await mysql.createConnection(server);
  await admin.query(`CREATE DATABASE ${name} CHARACTER SET utf8mb4 COLLATE utf8mb4_bin`);
  const [db, keeper] = [openDb(config), openKeeper(config)];
  try {
    await migrate(config);
    const half = records.slice(0, records.length / 2);
    const bulkMs = await timed(async () => {
      for (let at = 0; at < half.length; at += 1000)
        await keeper.query(
          'INSERT INTO call_record (id, started_at, from_number, to_number, outcome, answered_by, at_ms, talk_ms, import_id, body) VALUES ?',
          [half.slice(at, at + 1000).map((record) => callRow(record, null))],
        );
    });
    const rest = records.slice(records.length / 2);
    const rows = rest.map(({ startMs, from, to, outcome, atMs, talkMs }) => [
      new Date(startMs).toISOString(),
      from ?? '',
      to,
      outcome,
      String(atMs / 1000),
      String(talkMs / 1000),
    ]);
    const columns = matchCallColumns(['start', 'from', 'to', 'outcome', 'wait', 'talk']);
    const read: CallRecord[] = [];
    const reader = callReader({
      choices: { columns, dates: 'iso', timeZone: 'UTC', isByLeg: false, joinWithinS: 3, words: {} },
      dialling: skerrowSoundFerries().dialling,
      phoneOf: (text) => text,
      hashOf: (text) => randomBytes(10).toString('base64url') + String(text.length),
      onCall: (record) => read.push(record),
      onFault: () => undefined,
    });
    const importMs = await timed(async () => {
      for (const [n, cells] of rows.entries()) {
        reader.row(cells, n + 2);
        if (read.length >= 1000) await putCalls(keeper, read.splice(0), 1);
      }
      reader.end();
      await putCalls(keeper, read.splice(0), 1);
    });
    line('calls imported from a table', perS(rest.length, importMs));
    line(
      '  of a bare bulk insert of as many',
      `${Math.round((bulkMs / half.length / (importMs / rest.length)) * 100)} %`,
      'half or better',
    );
    const estate = skerrowSoundFerries();
    const live = {
      estate,
      index: compileEstate(estate),
      finder: finderOf(estate),
      revision: 1,
    } as unknown as LiveEstate;
    const asked = { outcome: null, went: null, fromMs: null, toMs: null, after: null, mayNumbers: true };
    const page = (text: string) => timed(() => callsPage(db, live, { ...asked, text }));
    await page('');
    line(
      `the first page of ${records.length.toLocaleString('en')} calls`,
      `${Math.round(await page(''))} ms`,
      'under 200 ms',
    );
    line('  a person, by name', `${Math.round(await page('Ines'))} ms`, 'under 200 ms');
    line('  a number', `${Math.round(await page('+1 604 555 0155'))} ms`, 'under 200 ms');
  } finally {
    await Promise.all([db.end(), keeper.end()]);
    await admin.query(`DROP DATABASE ${name}`);
    await admin.end();
  }
}
