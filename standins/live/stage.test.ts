import type { Estate } from '../../core/estate';
import { isFirm } from '../../core/calls/live';
import { compileEstate } from '../../core/calls/engine';
import { workedCalls, workedEstate } from '../../core/tests/worked';
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
  // A machine that is held up for longer than the tolerance shows as a departure: such a call is placed again by itself.
  for (let again = 0; again < 3; again += 1)
    for (const [i, { departures }] of results.entries())
      if (departures.length > 0) results[i] = await place(applying[i]!);
  expect(results).toEqual(applying.map(({ name }) => ({ name, departures: [], wasAnswered: true })));
});

test('where the plan asks for a PIN it is typed at the keys, and the call is taken when the model says', async () => {
  const estate = workedEstate();
  const withPin = JSON.parse(
    JSON.stringify(estate).replaceAll('"confirm":"key"', '"confirm":"pin"'),
  ) as Estate;
  expect(withPin).not.toEqual(estate);
  const { call } = golden.find(({ name }) => name.includes('answered at home with a key press'))!;
  const { seen, departures } = await runLive({
    index: compileEstate(withPin),
    call,
    speed: SPEED,
    toleranceRealMs: TOLERANCE_MS / SPEED,
  });
  expect(departures).toEqual([]);
  expect(seen.outcome).toMatchObject({ kind: 'answered', endpoint: 'tomasz-home' });
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
