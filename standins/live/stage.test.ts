import type { Estate } from '../../core/estate';
import { isFirm } from '../../core/calls/live';
import { compileEstate, type Call } from '../../core/calls/engine';
import { workedCalls, workedEstate } from '../../core/tests/worked';
import { undisturbed } from '../tests/undisturbed';
import { runLive } from '.';

const SPEED = 5;
/** What is stated: a moment of a live call may come this much late, in ms of the call. */
const TOLERANCE_MS = 1000;

const index = compileEstate(workedEstate());
const golden = workedCalls();

/** Those whose course does not hang on less than what is tolerated. */
const applying = golden.filter(({ call }) => isFirm(index, call, TOLERANCE_MS));

test('most worked calls can be placed for real', () => {
  expect(applying.length).toBeGreaterThan(20);
});

test('calls placed over SIP, RTP and stand-in phones go as the model says', async () => {
  const place = async ({ name, call }: (typeof applying)[number]) => {
    const { departures, caller } = await runLive({
      index,
      call,
      speed: SPEED,
      toleranceRealMs: TOLERANCE_MS / SPEED,
    });
    return { name, departures, wasAnswered: caller.status > 0 };
  };
  const results = await Promise.all(applying.map(place));
  for (const [i, result] of results.entries())
    results[i] = await undisturbed(() => place(applying[i]!), result);
  expect(results).toEqual(applying.map(({ name }) => ({ name, departures: [], wasAnswered: true })));
  // On a machine that others share nearly all of them are placed again, one after the other.
}, 400_000);

test('where the plan asks for a PIN it is typed at the keys, and the call is taken when the model says', async () => {
  const estate = workedEstate();
  const withPin = JSON.parse(
    JSON.stringify(estate).replaceAll('"confirm":"key"', '"confirm":"pin"'),
  ) as Estate;
  expect(withPin).not.toEqual(estate);
  const { call } = golden.find(({ name }) => name.includes('answered at home with a key press'))!;
  const { seen, departures } = await undisturbed(() =>
    runLive({
      index: compileEstate(withPin),
      call,
      speed: SPEED,
      toleranceRealMs: TOLERANCE_MS / SPEED,
    }),
  );
  expect(departures).toEqual([]);
  expect(seen.outcome).toMatchObject({ kind: 'answered', endpoint: 'tomasz-home' });
});

test('calls to a group of seats go over SIP as the model says: at a mobile by key, at a softphone, played', async () => {
  const estate: Estate = {
    ...workedEstate(),
    seats: [
      { id: 'north', name: 'North', extension: '4551', ringMs: 8000 },
      { id: 'south', name: 'South', extension: '4552', ringMs: 8000 },
      { id: 'closed', name: 'Closed', extension: '4553', unattended: { play: 'closed' } },
    ],
    groups: [
      ...workedEstate().groups,
      {
        id: 'dispatch',
        name: 'Dispatch',
        extension: '4290',
        mode: 'by-rank',
        members: [{ seat: 'closed', rank: 9 }, { seat: 'north', rank: 2 }, { seat: 'south' }],
        ringMs: 10_000,
        permission: 'coast',
        ending: { kind: 'hang-up', message: 'nobody' },
      },
    ],
  };
  const seated = compileEstate(estate);
  const north = { state: 'ready' as const, person: 'tomasz', at: { number: '+17785550188' } };
  const south = { state: 'ready' as const, person: 'ines', at: { endpoint: 'ines-desk' } };
  const mobileAnswers = { '+17785550188': { answerAfterMs: 2000, mailboxAfterMs: null } };
  const place = async (world: Call['world']) => {
    const { seen, departures } = await undisturbed(() =>
      runLive({
        index: seated,
        call: {
          from: '+16045550199',
          to: '4290',
          at: '2026-11-24T10:00:00-07:00',
          ...(world ? { world } : {}),
        },
        speed: SPEED,
        toleranceRealMs: TOLERANCE_MS / SPEED,
      }),
    );
    return { departures, outcome: seen.outcome };
  };
  expect(await place({ seats: { north, south }, endpoints: mobileAnswers })).toMatchObject({
    departures: [],
    outcome: { kind: 'answered', endpoint: '+17785550188' },
  });
  expect(
    await place({ seats: { north, south }, endpoints: { 'ines-desk': { answerAfterMs: 1500 } } }),
  ).toMatchObject({ departures: [], outcome: { kind: 'answered', endpoint: 'ines-desk', person: 'ines' } });
  expect(await place({})).toMatchObject({
    departures: [],
    outcome: { kind: 'played', atMs: 0, seat: 'closed' },
  });
});

test('a try that is broken off ends at once, and leaves nothing open', async () => {
  const stop = new AbortController();
  const { seen } = await runLive({
    index,
    call: { from: '+16045550199', to: '+12505550101', at: '2026-11-24T14:20:00-07:00' },
    signal: stop.signal,
    onProgress: () => stop.abort(),
  });
  expect(seen.outcome.kind).toBe('abandoned');
});
