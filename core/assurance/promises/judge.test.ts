import { workedEstate } from '../../tests/worked';
import { compileEstate, runInDetail, type Call, type World, longestSilence } from '../../calls/engine';
import { judgeOf } from './judge';
import type { ReachPromise } from './types';

const index = compileEstate(workedEstate());
const run = (to: string, world: World = {}, at = '2026-11-24T10:00:00-07:00') => {
  const call: Call = { from: '+16045550199', to, at, world };
  return { call, ran: runInDetail(index, call, false) };
};
const says = (person: string, promise: ReachPromise, to: string, world: World = {}) => {
  const { call, ran } = run(to, world);
  return judgeOf(promise, index, index.people.get(person)!)(call, ran)?.() ?? null;
};

test('silence is what lies between sounds, and before the first', () => {
  expect(longestSilence(run('4102').ran)).toEqual([8000, 13_200]);
  expect(longestSilence(run('4102', { endpoints: { 'tomasz-app': { state: 'unregistered' } } }).ran)).toEqual(
    [0, 5200],
  );
});
test('a greeting is heard, so only what comes after it can be silent', () => {
  const world: World = { presses: { offer: { key: '1', afterMs: 2000 } } };
  const [from] = longestSilence(run('4104', world).ran);
  expect(from).toBeGreaterThanOrEqual(2000);
});
test.each<[ReachPromise, World, string | null]>([
  [{ kind: 'wait-at-most', longestMs: 24_999 }, {}, 'The caller waits 25 s.'],
  [{ kind: 'wait-at-most', longestMs: 25_000 }, {}, null],
  [{ kind: 'own-mailbox', withinMs: 24_999 }, {}, 'The mailbox takes the call only after 25 s.'],
  [{ kind: 'own-mailbox', withinMs: 25_000 }, {}, null],
  [{ kind: 'own-mailbox', withinMs: 1 }, { endpoints: { 'ines-desk': { answerAfterMs: 0 } } }, null],
  [{ kind: 'rings-within', withinMs: 199 }, {}, 'Nothing rings before 0.2 s.'],
  [{ kind: 'rings-within', withinMs: 200 }, {}, null],
  [
    { kind: 'no-carrier-voicemail' },
    { endpoints: { 'ines-mobile': { state: 'off', offAnswerMs: 2300 } } },
    "Lost: the mobile carrier's voicemail of Ines's mobile took the call after 2.3 s.",
  ],
  [
    { kind: 'no-carrier-voicemail' },
    { endpoints: { 'ines-mobile': { state: 'off', offAnswerMs: 2299 } } },
    null,
  ],
  [{ kind: 'one-lost' }, { endpoints: { 'ines-desk': { state: 'unregistered' } } }, null],
])('%j in a call to Ines with %j', (promise, world, expected) => {
  expect(says('ines', promise, '4101', world)).toBe(expected);
});
test('a person is cut off only by the guard, and only within the time that is promised', () => {
  const quick = { endpoints: { 'ines-mobile': { setupMs: 1000, answerAfterMs: 1000 } } };
  expect(says('ines', { kind: 'no-cut-off', withinMs: 1000 }, '4101', quick)).toMatch(
    /1 s after it begins to ring is cut off/,
  );
  expect(says('ines', { kind: 'no-cut-off', withinMs: 999 }, '4101', quick)).toBeNull();
});
test('what may not be dialled is named with its number', () => {
  expect(says('ruth', { kind: 'may-dial' }, '4103')).toBe(
    'Mobile is to ring, but +1 778 555 0103 may not or cannot be dialled.',
  );
});
test('a stranger’s mailbox is one that is neither the person’s own nor allowed', () => {
  const promise = (allowed: readonly string[]): ReachPromise => ({ kind: 'no-stranger', allowed });
  const forwarded = { activeCalls: {} };
  const { call, ran } = run('4101', forwarded, '2026-11-24T23:00:00-07:00');
  const judge = (allowed: readonly string[]) =>
    judgeOf(promise(allowed), index, index.people.get('ines')!)(call, ran)?.() ?? null;
  expect(judge([])).toMatch(/Voicemail for Tomasz/);
  expect(judge(['tomasz'])).toBeNull();
});
