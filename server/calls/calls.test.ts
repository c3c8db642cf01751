import type { CallsPage } from '../../api/calls';
import type {
  CarriersPage,
  CostPage,
  LetterPage,
  LongWork,
  LostPage,
  SlateCallsPage,
  TimesPage,
  TrafficPage,
} from '../../api/records';
import { demoPast } from '../../demo/calls';
import { closePools } from '../base';
import { putCalls } from '../collected/queries';
import { inTransaction } from '../db';
import { estateStore } from '../estate';
import { demoHistory } from '../setup-past';
import { demoEstate, freshDatabase, testServer, type TestDb, type TestServer } from '../test';
import { callsAround, explainOne } from './explain';
import { letterAsPdf, letterOf } from './letter';
import { lostPage } from './lost';
import { lookThroughNights, nightRows } from './night';
import type { Services } from '../http';
import { until } from '../../standins/tests/until';

const NOW = Date.parse('2026-11-24T21:20:00Z');
const past = demoPast(demoEstate(), NOW, 30);
const { wrong } = past;

describe('What should have happened, by the estate of then', () => {
  let own: TestDb;
  let services: Services;
  beforeAll(async () => {
    own = await freshDatabase();
    await inTransaction(own.db, (tx) => demoHistory(tx, past));
    for (let at = 0; at < past.records.length; at += 1000)
      await putCalls(own.keeper, past.records.slice(at, at + 1000));
    services = {
      db: own.db,
      keeper: own.keeper,
      store: estateStore(own.db),
      now: () => new Date(NOW),
    } as Services;
  });
  afterAll(async () => {
    await closePools();
    await own.drop();
  });

  test('“it did not ring yesterday at three”: the call, the rule, and until when the status lasted', async () => {
    const person = demoEstate().people.find(({ id }) => id === 'ines')!;
    const { calls } = await callsAround(services, person, wrong.leave.toMs - 10 * 60_000);
    const told = calls.find(({ call }) => call.id === 'demo-at-three')!;
    expect(told.went).toBe('planned');
    expect(told.silent.find(({ endpoint }) => endpoint === 'ines-mobile')?.why).toContain(
      'On leave: Ruth covers',
    );
    expect(told.then[0]).toBe('Ines Okafor was “On leave” until 15:10, then “On shift”.');
    expect(told.wentStrip.lanes.map(({ endpoint }) => endpoint)).toEqual(
      told.plannedStrip.lanes.map(({ endpoint }) => endpoint),
    );
    await expect(explainOne(services, told.call.key)).resolves.toMatchObject({ says: told.says });
    await expect(explainOne(services, 'c1~nothing')).rejects.toMatchObject({ status: 404 });
    await expect(explainOne(services, '; DROP TABLE')).rejects.toMatchObject({ status: 404 });
  });

  test('a restart that was forgotten is told from what registered when, by nobody’s word', async () => {
    const person = demoEstate().people.find(({ id }) => id === 'noor')!;
    const { calls } = await callsAround(services, person, wrong.forgotten.fromMs + 26 * 3_600_000);
    const odd = calls.filter(({ went }) => went === 'otherwise');
    expect(odd.length).toBeGreaterThan(0);
    for (const { reason } of odd) expect(reason).toContain('had not been restarted since it was changed');
    // Before it was changed her number was another one.
    const before = await callsAround(services, person, wrong.forgotten.fromMs - 3_600_000);
    expect(before.calls.some(({ call }) => call.to === '4290')).toBe(true);
  });

  test('every day is looked through once over two servers, and each call is marked', async () => {
    const both = () => Promise.all([1, 2].map(() => lookThroughNights(services)));
    const days: string[] = [];
    for (let more = true; more;) {
      const done = (await both()).flat();
      days.push(...done);
      more = done.length > 0;
    }
    expect(new Set(days).size).toBe(days.length);
    const nights = await nightRows(own.db);
    expect(nights.map(({ day }) => day)).toEqual([...days].sort().reverse());
    // Of the latest day it is told what Today has to show.
    expect(nights[0]?.signs?.map(({ says }) => says)).toEqual([
      `The carrier of ${wrong.quicker.prefix}… takes calls at other times than are set`,
    ]);
    const odd = nights.filter(({ otherwise }) => otherwise > 0);
    const reasons = odd.flatMap((night) => night.reasons.map(({ says }) => says));
    expect(reasons.some((says) => says.includes('had not been restarted'))).toBe(true);
    expect(reasons.some((says) => says.includes('Terminal trunk'))).toBe(true);
    // Days on which nothing went wrong have nothing to tell.
    const isWrong = (ms: number) =>
      (ms >= wrong.forgotten.fromMs && ms < wrong.forgotten.toMs) ||
      (ms >= wrong.trunkDown.fromMs && ms < wrong.trunkDown.toMs);
    const [rows] = await own.db.query('SELECT started_at, went FROM call_record WHERE started_at < ?', [
      new Date(NOW - 86_400_000),
    ]);
    const marked = rows as { started_at: Date; went: string | null }[];
    expect(marked.every(({ went }) => went !== null)).toBe(true);
    expect(
      marked.filter(({ went, started_at }) => went === 'otherwise' && !isWrong(started_at.getTime())),
    ).toEqual([]);
    // Each call has one rule that had it last.
    const { rules, weeks, daysLooked } = await lostPage(services, 20);
    const sum = (list: readonly { readonly lost: number }[]) => list.reduce((all, { lost }) => all + lost, 0);
    expect([daysLooked > 15, rules.length > 3, sum(rules) <= sum(weeks)]).toEqual([true, true, true]);
    for (const { lost, calls, name, ruleName } of rules)
      expect([lost > 0 && lost <= calls, name !== '', ruleName !== '']).toEqual([true, true, true]);
    const trunkDay = odd.find((night) => night.reasons.some(({ says }) => says.includes('Terminal trunk')))!;
    expect(trunkDay.patterns.some(({ kind }) => kind === 'trunk at that hour' || kind === 'trunk')).toBe(
      true,
    );
  });

  test('the week’s letter: what was lost, what went otherwise and why, what was changed', async () => {
    const letter = await letterOf(services, '2026-11-16');
    expect([letter.from, letter.to, letter.isWhole]).toEqual(['2026-11-16', '2026-11-22', true]);
    const lines = Object.fromEntries(
      letter.parts.map(({ title, lines: some }) => [title, some.map(({ says }) => says).join(' ')]),
    );
    expect(lines.Calls).toMatch(/^[\d,]+ calls, [\d,]+ in the week before\. \d+ were lost/);
    expect(lines['Not as planned']).toContain('Terminal trunk');
    expect(lines['What was changed']).toContain('Ines Okafor');
    expect((await letterOf(services)).from).toBe('2026-11-16');
    expect((await letterOf(services, '2026-11-24')).isWhole).toBe(false);
    expect((await letterAsPdf(letter)).subarray(0, 5).toString()).toBe('%PDF-');
    await expect(letterOf(services, 'soon')).rejects.toMatchObject({ status: 400 });
  });
});

describe('Over many calls', () => {
  let server: TestServer;
  beforeAll(async () => {
    server = await testServer(demoEstate(), undefined, () => new Date(NOW));
    for (let at = 0; at < past.records.length; at += 1000)
      await putCalls(server.keeper, past.records.slice(at, at + 1000));
  });
  afterAll(() => server.stop());

  const worked = async <T>(path: string, as: 'specialist' | 'help-desk' = 'specialist'): Promise<T> => {
    const { done } = await until(async () => {
      const { body, status } = await server.ask('GET', path, { as });
      expect(status).toBe(200);
      const { state, result, why } = body as LongWork<T>;
      if (state === 'failed') throw new Error(why ?? 'failed');
      return state === 'done' && result !== null && { done: result };
    }, 100_000);
    return done;
  };

  test('answer times of everybody, a person, a kind of phone and some hours', async () => {
    const everybody = await worked<TimesPage>('/api/calls/times?days=20');
    expect(everybody.answered).toBeGreaterThan(300);
    expect(everybody.curve.length).toBeLessThanOrEqual(241);
    for (const [n, { share }] of everybody.curve.entries())
      expect(share).toBeGreaterThanOrEqual(everybody.curve[n - 1]?.share ?? 0);
    for (const { share, low, high } of everybody.gains)
      expect([low <= share + 1e-12, share <= high + 1e-12]).toEqual([true, true]);
    const one = await worked<TimesPage>('/api/calls/times?days=20&person=noor');
    const desks = await worked<TimesPage>('/api/calls/times?days=20&phone=desk&fromHour=9&toHour=12');
    expect(one.n).toBeLessThan(everybody.n);
    expect(desks.n).toBeLessThan(everybody.n);
    expect((await server.ask('GET', '/api/calls/times?person=nobody', { as: 'specialist' })).status).toBe(
      404,
    );
    for (const bad of ['days=0', 'days=9999', 'days=x', 'fromHour=25&toHour=3'])
      expect((await server.ask('GET', `/api/calls/times?${bad}`, { as: 'specialist' })).status).toBe(400);
  });

  test('the carrier that became quicker is offered as a slate, which changes just its phones', async () => {
    const { carriers } = await worked<CarriersPage>('/api/calls/carriers?days=28');
    const quick = carriers.find(({ prefix }) => prefix === wrong.quicker.prefix)!;
    expect(quick.pickUp?.changed).not.toBeNull();
    expect(quick.differ).toBeGreaterThan(10);
    const path = `/api/calls/carriers/slate?days=28&prefix=${encodeURIComponent(quick.prefix)}`;
    const { status, body } = await server.ask('POST', path, { as: 'specialist' });
    expect(status).toBe(201);
    const { slate } = body as { slate: number };
    const calls = await worked<SlateCallsPage>(`/api/slates/${slate}/calls?days=20`);
    // Calls that the quicker voicemail took are kept once phones stop ringing before it.
    expect(calls.saved).toBeGreaterThan(5);
    expect(calls.calls).toBeGreaterThan(1000);
    expect(calls.some[0] && calls.says[calls.some[0].id]?.after).toBeTruthy();
    const traffic = await worked<TrafficPage>(`/api/calls/traffic?days=20&slate=${slate}`);
    expect(traffic.slate).not.toBeNull();
    expect((await server.ask('POST', path, { as: 'help-desk' })).status).toBe(403);
    expect((await server.ask('GET', '/api/slates/9999/calls', { as: 'specialist' })).status).toBe(404);
  });

  test('lost calls by week, by who was called and by hour add up to the same', async () => {
    const { body } = await server.ask('GET', '/api/calls/lost?days=20', { as: 'help-desk' });
    const { weeks, hours, kinds } = body as LostPage;
    const sum = (list: readonly { readonly lost: number }[]) =>
      list.reduce((total, { lost }) => total + lost, 0);
    expect(sum(weeks)).toBe(sum(hours));
    expect(sum(weeks)).toBe(kinds.reduce((total, { calls }) => total + calls, 0));
    for (const { lost, calls, low, high } of weeks)
      expect([low <= lost / calls, lost / calls <= high]).toEqual([true, true]);
    // No day was looked through here.
    expect(body).toMatchObject({ rules: [], daysLooked: 0 });
  });

  test('a tariff is put in whole or not at all; what it has no price for is said', async () => {
    const post = (text: string, query = 'name=T') =>
      server.ask('POST', `/api/tariffs?${query}`, {
        as: 'specialist',
        body: new TextEncoder().encode(text),
        headers: { 'Content-Type': 'application/octet-stream' },
      });
    expect((await server.ask('GET', '/api/calls/cost', { as: 'specialist' })).status).toBe(404);
    const gap = await post('prefix,per minute\n+1236,0.02\n+1236,0.03\nx,y\n');
    expect(gap.status).toBe(400);
    expect((gap.body as { faults: { path: string }[] }).faults.map(({ path }) => path).join()).toContain(
      'line',
    );
    expect((await post('prefix,per minute\n+1,1\n', 'currency=dollars')).status).toBe(400);
    expect((await post('')).status).toBe(400);
    expect(
      ((await server.ask('GET', '/api/tariffs', { as: 'manager' })).body as { tariffs: unknown[] }).tariffs,
    ).toEqual([]);
    const { body } = await post('prefix,name,per minute\n+1236,Mobile,0.02\n');
    const cost = await worked<CostPage>('/api/calls/cost?days=20');
    expect(cost.total).toBeGreaterThan(0);
    expect(cost.total).toBe(Number.isSafeInteger(cost.total) ? cost.total : NaN);
    expect(cost.unpriced.length).toBeGreaterThan(0);
    expect(cost.people.length).toBeGreaterThan(0);
    expect(
      (await server.ask('DELETE', `/api/tariffs/${(body as { id: number }).id}`, { as: 'specialist' }))
        .status,
    ).toBe(204);
    expect((await server.ask('DELETE', '/api/tariffs/77', { as: 'specialist' })).status).toBe(404);
  });

  test('the list narrows by hours and by how calls went, and a help desk sees no private number anywhere', async () => {
    const page = async (query: string) =>
      (await server.ask('GET', `/api/calls/page?${query}`, { as: 'specialist' })).body as CallsPage;
    const from = new Date(NOW - 86_400_000).toISOString();
    const day = await page(`from=${from}`);
    expect(day.calls.length).toBeGreaterThan(10);
    expect(day.calls.every(({ at }) => at >= from)).toBe(true);
    expect((await page('went=otherwise')).calls).toEqual([]);
    // Of the made-up callers some have a number that is the organisation's own: that is nobody's secret.
    const own = new Set(
      demoEstate().people.flatMap(({ lines }) => lines.flatMap(({ numbers }) => [...numbers])),
    );
    const { key } = day.calls.find(({ from }) => from?.startsWith('+') && !own.has(from))!;
    const shown = await server.ask('GET', `/api/calls/one/${encodeURIComponent(key)}`, { as: 'help-desk' });
    expect(shown.status).toBe(200);
    expect(shown.text).not.toMatch(/\+1(?:604|250|778|236)55501\d\d/);
    const json = await server.ask('GET', '/api/calls/letter?form=json', { as: 'manager' });
    expect((JSON.parse(json.text) as LetterPage).parts.length).toBe(5);
    for (const path of [
      '/api/calls/letter',
      '/api/calls/times',
      '/api/calls/lost',
      '/api/calls/nights',
      '/api/call-imports',
    ])
      expect((await server.ask('GET', path, { as: 'staff' })).status).toBe(403);
  });

  test('thirty-two at once ask for one piece of work, and it is done once', async () => {
    const asked = await Promise.all(
      Array.from({ length: 32 }, () => server.ask('GET', '/api/calls/times?days=19', { as: 'specialist' })),
    );
    expect(asked.every(({ status }) => status === 200)).toBe(true);
    await worked('/api/calls/times?days=19');
    await closePools();
  });
});
