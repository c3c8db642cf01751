import pino from 'pino';
import type { RoundNumbersPage, RoundPage } from '../../api/rounds';
import { writeWav } from '../../core/formats';
import type { CallEnd } from '../../core/rounds';
import { workedEstate } from '../../core/tests/worked';
import { openDb } from '../db';
import { estateStore } from '../estate';
import { runRounds } from '../rounds/run';
import { noSwitchboard, type Switchboard } from '../switchboard/switchboard';
import { PLACE, testServer, type TestServer } from '.';
import { until as untilSo } from '../../standins/tests/until';

// Noon in Vancouver.
export const BEGAN = Date.parse('2026-11-24T19:00:00Z');
export const worked = workedEstate();
export const estate = { ...worked, trunks: worked.trunks.map((each) => ({ ...each, channels: 30 })) };
export const permission = estate.permissions.find(({ allow }) => allow.includes('national'))!.id;
export type As = 'specialist' | 'help-desk' | 'manager' | 'staff';
export const SOUND = writeWav(
  Int16Array.from({ length: 16_000 }, (_each, n) => 9000 * Math.sin(n / 5)),
  16_000,
);
export const ZONE = 'America/Vancouver';
export const number = (n: number) => `+1236555${String(1000 + n)}`;
export const listOf = (count: number) =>
  [
    'Number,Name,Zone',
    ...Array.from({ length: count }, (_each, n) => `${number(n)},Guest ${n},${ZONE}`),
  ].join('\n');
/** Looks again and again until it is so. */
export const until = (look: () => Promise<void>, isSo: () => Promise<boolean>) =>
  untilSo(async () => {
    await look();
    return isSo();
  }, 100_000);

/** What tests of rounds share: a server with a clock of its own, rounds that are made, and a phone system as a test says. */
export function roundTests() {
  const state = { clock: BEGAN, server: null as unknown as TestServer };
  beforeAll(async () => {
    state.server = await testServer(estate, undefined, () => new Date(state.clock));
  });
  afterAll(() => state.server.stop());
  beforeEach(async () => {
    state.clock = BEGAN;
    for (const table of ['call_round', 'round_number', 'round_try', 'never_call'])
      await state.server.db.query(`DELETE FROM ${table}`);
  });

  const ask = (method: string, path: string, body?: unknown, as: As = 'specialist') =>
    state.server.ask(method, path, { as, body });
  const page = async (id: number, as: As = 'specialist') =>
    (await ask('GET', `/api/rounds/${id}`, undefined, as)).body as RoundPage;
  const numbers = async (id: number, query = '', as: As = 'specialist') =>
    ((await ask('GET', `/api/rounds/${id}/numbers${query}`, undefined, as)).body as RoundNumbersPage).numbers;
  async function step(id: number, name: string, as: As = 'specialist') {
    const { version } = await page(id);
    return ask('POST', `/api/rounds/${id}/${name}`, { version }, as);
  }
  /** A round with a recording and a list, as far as it is wanted. */
  async function made(
    list: string,
    plan: object = {},
    until: readonly string[] = ['ask', 'approve', 'start'],
  ) {
    const recording = (await ask('POST', '/api/recordings?name=Cancelled', SOUND)).body.id as number;
    const id = (await ask('POST', '/api/rounds', { name: 'Sailing cancelled' })).body.id as number;
    const before = await page(id);
    const put = await ask('PUT', `/api/rounds/${id}`, {
      version: before.version,
      plan: { ...before.plan, recording, permission, keepFree: 0, ...plan },
    });
    expect(put.status).toBe(200);
    const sent = await ask('PUT', `/api/rounds/${id}/list?name=list.csv&version=${put.body.version}`, list);
    expect(sent.status).toBe(200);
    for (const name of until)
      expect((await step(id, name, name === 'approve' ? 'manager' : 'specialist')).status).toBe(200);
    return id;
  }

  /** A server with a phone system that does as a test says. */
  function caller(does: (number: string, nth: number) => CallEnd | null) {
    const db = openDb(state.server.config);
    const placed: string[] = [];
    const played: (readonly string[])[] = [];
    const going = new Map<string, string>();
    let most = 0;
    const phones: Switchboard = {
      ...noSwitchboard,
      place: () => PLACE,
      callListed: (call, { message, keys }) => {
        expect(message.muLaw.length).toBe(8000);
        played.push(Object.entries(keys).map(([key, sound]) => `${key} ${sound?.muLaw.length ?? 'again'}`));
        placed.push(call.number);
        going.set(call.id, call.number);
        most = Math.max(most, going.size);
        const end = does(call.number, placed.filter((each) => each === call.number).length);
        if (end !== null) setImmediate(() => over(call.id, end));
        return true;
      },
    };
    const runs = runRounds(
      () => ({ db, store: estateStore(db), now: () => new Date(state.clock), phones }),
      pino({ level: 'silent' }),
    );
    const over = (id: string, end: CallEnd, keys?: string) => {
      if (!going.delete(id)) return;
      runs.ended(id, { end, playedMs: end === 'no-answer' ? 0 : 900, ...(keys ? { keys } : {}) });
    };
    return {
      placed,
      played,
      going,
      over,
      most: () => most,
      look: runs.look,
      end: async () => {
        await runs.close();
        await db.end();
      },
    };
  }
  return { state, ask, page, numbers, step, made, caller };
}
