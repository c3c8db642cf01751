import { emptyEstate, finderOf, sliceFor } from '../../editing';
import { affectedBy } from '../../changes/slate';
import type { Estate, RingTarget } from '../../estate';
import { compileEstate, runCall, type Call } from '.';

const LINE = { at: '2026-11-20T10:00:00Z', delayMs: 30, jitterMs: 5, lossPercent: 0.2 };
/** Ada’s app at home, rung first under a condition, then her mobile. */
function estateWith(target: Partial<RingTarget>, lossPercent: number | null, site = 'home'): Estate {
  return {
    ...emptyEstate(),
    sites: [
      {
        id: 'home',
        name: 'Home',
        kind: 'home',
        ...(lossPercent === null ? {} : { line: { ...LINE, lossPercent } }),
      },
    ],
    people: [
      {
        id: 'ada',
        name: 'Ada',
        status: 'on',
        maxCalls: 2,
        permission: emptyEstate().permissions[0]?.id ?? 'all',
        lines: [{ id: 'ada-1', extension: '4101', numbers: [] }],
        endpoints: [{ id: 'ada-app', label: 'App', kind: 'desktop-app', path: { site } }],
        plan: {
          rules: [],
          otherwise: {
            stages: [{ ring: [{ endpoint: 'ada-app', ...target }], forMs: 20_000 }],
            ending: { kind: 'mailbox' },
          },
        },
      },
    ],
  };
}
const CALL: Call = {
  from: '+16045550199',
  to: '4101',
  at: '2026-11-24T10:00:00-08:00',
  world: { endpoints: { 'ada-app': { answerAfterMs: 3000 } } },
};
const ends = (estate: Estate) => {
  const index = compileEstate(estate);
  return runCall(index, CALL);
};

test.each([
  ['a good line rings it', { onlyQuality: 3.8 }, 0.2, 'answered'],
  ['a poor one does not', { onlyQuality: 3.8 }, 12, 'mailbox'],
  ['one never measured rings', { onlyQuality: 3.8 }, null, 'answered'],
  ['without the condition it rings', {}, 12, 'answered'],
] as const)('%s', (_name, target, loss, outcome) => {
  expect(ends(estateWith(target, loss)).outcome.kind).toBe(outcome);
});

test('why it was left out is told with the score', () => {
  const { explanation } = ends(estateWith({ onlyQuality: 3.8 }, 12)) as unknown as { explanation?: unknown };
  expect(JSON.stringify(explanation ?? ends(estateWith({ onlyQuality: 3.8 }, 12)))).toMatch(
    /its line was measured at MOS \d\.\d, and it is set to ring only from 3\.8/,
  );
});

test('a part of the estate decides as the whole does, and a change of the line touches who goes by it', () => {
  const before = estateWith({ onlyQuality: 3.8 }, 12);
  const slice = sliceFor(before, finderOf(before), 'ada');
  expect(slice.sites).toEqual([
    { id: 'home', name: 'Home', kind: 'home', line: { ...LINE, lossPercent: 12 } },
  ]);
  expect(ends(slice).outcome.kind).toBe('mailbox');
  const after = estateWith({ onlyQuality: 3.8 }, 0.2);
  const entry = {
    kind: 'site' as const,
    id: 'home',
    name: 'Home',
    base: before.sites![0]!,
    after: after.sites![0]!,
  };
  const touched = (estate: Estate) => affectedBy(estate, after, [entry]).map(({ id }) => id);
  expect([touched(before), touched(estateWith({}, 12))]).toEqual([['ada'], []]);
});
