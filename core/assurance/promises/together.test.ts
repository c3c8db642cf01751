import fc from 'fast-check';
import type { Endpoint, Ending, Group, Person, RingTarget } from '../../estate';
import type { Call, EndpointBehaviour } from '../../calls/engine';
import { estateWith, holdTo, prove } from '../../tests/promised';

/** Three phones that a queue rings again and again. */
const PHONES: readonly Endpoint[] = [
  { id: 'ada-desk', label: 'Desk', kind: 'desk' },
  { id: 'ada-mobile', label: 'Mobile', kind: 'mobile', number: '+17785550101', mailboxAfterMs: 15_000 },
  { id: 'ada-app', label: 'App', kind: 'mobile-app' },
];
const IDS = PHONES.map(({ id }) => id);

/** What a phone can do, on a coarse grid. */
function grid({ number, kind }: Endpoint, confirmed: boolean): readonly EndpointBehaviour[] {
  const presses: readonly EndpointBehaviour[] = confirmed ? [{}, { pressAfterMs: null }] : [{}];
  return [
    {},
    ...[0, 1000, 3500, 7000, 14_000].flatMap((answerAfterMs) =>
      presses.map((press) => ({ answerAfterMs, ...press })),
    ),
    { rejectAfterMs: 0 },
    { rejectAfterMs: 4000 },
    { state: 'busy' },
    { state: 'do-not-disturb' },
    ...(kind === 'mobile-app' ? [{ state: 'asleep' as const }] : []),
    { state: number === undefined ? 'unregistered' : 'off' },
  ];
}

const target = fc.record({
  delayMs: fc.constantFrom(0, 0, 2000),
  acceptAfterMs: fc.constantFrom(0, 3000, 6000),
  giveUpAfterMs: fc.constantFrom(null, null, 9000),
  confirm: fc.constantFrom('none' as const, 'none' as const, 'key' as const),
});
const stage = fc.record({
  ring: fc
    .tuple(fc.subarray(IDS, { minLength: 2 }), fc.array(target, { minLength: 3, maxLength: 3 }))
    .map(([ids, targets]): RingTarget[] => ids.map((endpoint, i) => ({ endpoint, ...targets[i] }))),
  forMs: fc.constantFrom(6000, 12_000, 20_000),
});
const ending = fc.record<Extract<Ending, { kind: 'queue' }>>({
  kind: fc.constant('queue' as const),
  maxMs: fc.constantFrom(10_000, 25_000, 40_000),
  then: fc.constantFrom<Extract<Ending, { kind: 'queue' }>['then'][]>(
    { kind: 'mailbox' },
    { kind: 'endpoint', endpoint: 'ada-mobile' },
  ),
});

/** Calls for Ada with every combination of what the three phones can do. */
function* everyCall(confirmed: boolean): Generator<Call> {
  const [desk, mobile, app] = PHONES.map((phone) => grid(phone, confirmed));
  for (const d of desk!)
    for (const m of mobile!)
      for (const a of app!)
        yield {
          from: '+0',
          to: '4100',
          at: '2026-11-24T10:00:00-07:00',
          world: { endpoints: { 'ada-desk': d, 'ada-mobile': m, 'ada-app': a } },
        };
}

test('phones that a queue rings again: what is proved holds whatever all of them do together', () => {
  let held = 0;
  let broke = 0;
  fc.assert(
    fc.property(fc.array(stage, { minLength: 1, maxLength: 2 }), ending, (stages, then) => {
      const estate = estateWith({ stages, ending: then }, { endpoints: PHONES });
      const confirmed = stages.some((each) => each.ring.some((one) => one.confirm === 'key'));
      const found = holdTo(estate, everyCall(confirmed));
      held += found.held;
      broke += found.broke;
    }),
    { numRuns: Number(process.env.HOSTLER_RUNS ?? 4) },
  );
  expect(Math.min(held, broke)).toBeGreaterThan(5);
});

test('one phone lost while a colleague is engaged is a case of its own, whatever else can happen to the colleague’s phone', () => {
  const base = estateWith({ stages: [], ending: { kind: 'group', group: 'pair' } });
  const colleague = (id: string): Person => {
    const endpoint = `${id}-desk`;
    return {
      ...base.people[1]!,
      id,
      name: id,
      lines: [{ id: `${id}-1`, extension: id === 'ben' ? '4101' : '4102', numbers: [] }],
      endpoints: [{ id: endpoint, label: 'Desk', kind: 'desk' }],
      plan: {
        rules: [],
        otherwise: { stages: [{ ring: [{ endpoint }], forMs: 10_000 }], ending: { kind: 'mailbox' } },
      },
    };
  };
  const pair: Group = {
    id: 'pair',
    name: 'Pair',
    extension: '4200',
    permission: 'all',
    mode: 'linear',
    ringMs: 10_000,
    members: [{ person: 'ben' }, { person: 'cleo' }],
    ending: { kind: 'mailbox', person: 'ada' },
  };
  const estate = {
    ...base,
    groups: [pair],
    people: [base.people[0]!, colleague('ben'), colleague('cleo')],
  };
  const lost = prove(estate, [{ kind: 'one-lost' }]).proofs[0]!;
  expect(lost.broken?.call.world).toEqual({
    activeCalls: { cleo: 1 },
    endpoints: { 'ben-desk': { state: 'unregistered' } },
  });
});
