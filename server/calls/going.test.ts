import { endpointName, compileEstate, runCall } from '../../core/calls/engine';
import { workedCalls, workedEstate } from '../../core/tests/worked';
import type { CallOutAt } from '../../standins/system';
import type { CallGoingOn, Services } from '../http';
import { callsGoing } from './going';

const index = compileEstate(workedEstate());
const { call } = workedCalls().find(({ expect: { outcome } }) => outcome.kind === 'answered')!;
const trace = runCall(index, call);
const NOW = Date.now() + 60_000;
const seen = async (going: Omit<CallGoingOn, 'call'>) => {
  const services = {
    calls: () => new Map([['one', { ...going, call }]]),
    store: { current: () => Promise.resolve({ index }) },
    now: () => new Date(NOW),
  } as unknown as Services;
  return (await callsGoing(services))[0]!;
};
const after = (ms: number) => NOW - ms;

test('a call rings where its legs ring at this moment, and nowhere before they do', async () => {
  const leg = trace.legs.find(({ alertMs, endMs }) => alertMs !== null && alertMs > 0 && alertMs < endMs)!;
  const name = endpointName(index, leg.endpoint);
  const at = async (ms: number) => (await seen({ startMs: after(ms), trace, settled: null })).where;
  const ringsAt = (ms: number) =>
    trace.legs
      .filter(({ alertMs, endMs }) => alertMs !== null && alertMs <= ms && ms < endMs)
      .map(({ endpoint }) => endpointName(index, endpoint))
      .join(', ') || null;
  expect(await at(leg.alertMs!)).toContain(name);
  for (const ms of [0, leg.alertMs! - 1, leg.alertMs!, leg.endMs - 1, leg.endMs])
    expect([ms, await at(ms)]).toEqual([ms, ringsAt(ms)]);
  expect((await seen({ startMs: after(5), trace: null, settled: null })).where).toBeNull();
});

test('an answered call is where it was answered, and has talked since then', async () => {
  const { outcome } = trace;
  if (outcome.kind !== 'answered') throw new Error('the worked call is answered');
  expect(
    await seen({ startMs: after(90_000), trace, settled: { trace, atMs: after(40_000) } }),
  ).toMatchObject({
    where: endpointName(index, outcome.endpoint),
    forMs: 90_000,
    talkMs: 40_000,
  });
});

test('a call out over an access number is told as far as it has come, by whom and to whom', async () => {
  const services = (out: CallOutAt) =>
    ({
      calls: () => new Map([['out', { startMs: out.startMs, call, trace: null, settled: null, out }]]),
      store: { current: () => Promise.resolve({ index }) },
      now: () => new Date(NOW),
    }) as unknown as Services;
  const out: CallOutAt = {
    by: 'access',
    from: '4101',
    to: '+16045550199',
    startMs: after(20_000),
    step: 'rings',
    talksMs: null,
  };
  expect(await callsGoing(services(out))).toMatchObject([
    {
      from: '4101',
      to: '+16045550199',
      step: 'rings',
      forMs: 20_000,
      talkMs: null,
      rule: 'an access number',
    },
  ]);
  expect(
    await callsGoing(services({ ...out, by: 'back', step: 'talks', talksMs: after(5000) })),
  ).toMatchObject([{ step: 'talks', talkMs: 5000, rule: 'a call back' }]);
});
