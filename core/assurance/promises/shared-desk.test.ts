import type { Ending, ReachPromise, RingTarget } from '../../estate';
import { awayBehaviours } from '../../desks';
import { prove as proveAll } from '../../tests/promised';
import { mobileOf, personOf, smallEstate } from '../../tests/small';

const HOT: RingTarget = { endpoint: 'ada-hot' };
const CAREFUL: RingTarget = { endpoint: 'ada-mobile', acceptAfterMs: 3000, giveUpAfterMs: 18_000 };
const own: Ending = { kind: 'mailbox' };

/** Somebody whose desk phone is whichever shared desk they sign on to. */
const estateOf = (...ring: readonly RingTarget[]) =>
  smallEstate([
    personOf(
      'ada',
      1,
      { otherwise: { stages: [{ ring, forMs: 20_000 }], ending: own } },
      {
        endpoints: [{ id: 'ada-hot', label: 'Shared desk', kind: 'hot-desk' }, mobileOf('ada', 1)],
      },
    ),
  ]);
const prove = (promise: ReachPromise, ...ring: readonly RingTarget[]) =>
  proveAll(estateOf(...ring), [promise]).proofs[0]!;

test('a proof goes through both: signed on somewhere, and nowhere', () => {
  const promise: ReachPromise = { kind: 'no-carrier-voicemail' };
  const unguarded: RingTarget = { endpoint: 'ada-mobile' };
  const nowhere = awayBehaviours(estateOf(HOT).people, () => false)['ada-hot'];
  /** What the shared desk does in the call that breaks it; undefined: it is as it is while somebody sits there. */
  const desk = (...ring: readonly RingTarget[]) => {
    const { holds, broken } = prove(promise, ...ring);
    expect(holds).toBe(false);
    return broken?.call.world?.endpoints?.['ada-hot'];
  };
  // The mobile rings only where they are signed on nowhere, and its voicemail takes the call then.
  expect(desk(HOT, { ...unguarded, unlessRegistered: 'ada-hot' })).toEqual(nowhere);
  // It rings only while they are at a desk, and its voicemail takes the call then.
  expect(desk(HOT, { ...unguarded, whileRegistered: 'ada-hot' })).toBeUndefined();
  for (const condition of [{ unlessRegistered: 'ada-hot' }, { whileRegistered: 'ada-hot' }])
    expect(prove(promise, HOT, { ...CAREFUL, ...condition }).holds).toBe(true);
});
