import fc from 'fast-check';
import { ARRIVALS, type Person, type Rule, type Stage } from '../../estate';
import type { Call, EndpointBehaviour, Press } from '../../calls/engine';
import { estateWith, holdTo, ring } from '../../tests/promised';

const CALLERS = ['+0', '0', null, '+16045550199'];
const PRESSES: readonly (Press | null)[] = [
  null,
  ...['1', '2'].flatMap((key) => [0, 4000, 7000, 9000].map((afterMs) => ({ key, afterMs }))),
];
const ENGAGED: readonly Readonly<Record<string, number>>[] = [{}, { ada: 1 }, { ben: 1 }];
const DOINGS: readonly EndpointBehaviour[] = [
  {},
  { answerAfterMs: 0 },
  { answerAfterMs: 9000 },
  { rejectAfterMs: 0 },
  { state: 'busy' },
  { state: 'do-not-disturb' },
];

const when = fc.oneof(
  fc.record({
    caller: fc.constantFrom(
      { class: 'external' as const },
      { class: 'internal' as const },
      { class: 'anonymous' as const },
      { class: 'listed' as const, numbers: ['+1604'] },
    ),
  }),
  fc.record({ arrival: fc.subarray([...ARRIVALS], { minLength: 1, maxLength: 2 }) }),
);
const offer = fc
  .record({ greetingMs: fc.constantFrom(2000, 5000), next: fc.constantFrom('1', '2') })
  .map(({ greetingMs, next }): Stage => ({
    offer: {
      greeting: { text: '', says: [] },
      greetingMs,
      waitMs: 4000,
      choices: [
        { key: next, then: 'next' },
        { key: next === '1' ? '2' : '1', then: { kind: 'person', person: 'ben' } },
      ],
    },
  }));
const stages = (id: string) =>
  fc
    .tuple(fc.option(offer), fc.constantFrom(8000, 20_000))
    .map(([first, forMs]) => [...(first ? [first] : []), ring(forMs, { endpoint: id })]);
const rule = (id: string) =>
  fc.record({ when, stages: stages(id) }).map(({ when: on, stages: some }): Rule => ({
    id: 'first',
    name: 'First',
    when: on,
    stages: some,
    ending: { kind: 'mailbox' },
  }));
const plan = (id: string, ending: Rule['ending']) =>
  fc
    .tuple(fc.option(rule(id)), stages(id))
    .map(([first, some]) => ({ rules: first ? [first] : [], otherwise: { stages: some, ending } }));

/** Calls for Ada, whoever calls, however it comes and whatever is pressed. */
function* everyCall(): Generator<Call> {
  for (const from of CALLERS)
    for (const arrival of ARRIVALS)
      for (const offered of PRESSES)
        for (const activeCalls of ENGAGED)
          for (const d of DOINGS)
            for (const b of DOINGS)
              yield {
                from,
                to: '4100',
                at: '2026-11-24T10:00:00-07:00',
                arrival,
                world: {
                  activeCalls,
                  endpoints: { 'ada-desk': d, 'ben-desk': b },
                  ...(offered ? { presses: { offer: offered } } : {}),
                },
              };
}

test('callers, arrivals and keys: what is proved holds for all of them, two plans one behind the other', () => {
  let [held, broke] = [0, 0];
  const both = fc.tuple(
    plan('ada-desk', { kind: 'person', person: 'ben' }),
    plan('ben-desk', { kind: 'mailbox' }),
  );
  fc.assert(
    fc.property(both, ([own, bens]) => {
      const base = estateWith(own.otherwise, { plan: own });
      const ben: Person = {
        ...base.people[1]!,
        endpoints: [{ id: 'ben-desk', label: 'Desk', kind: 'desk' }],
        plan: bens,
      };
      const estate = { ...base, people: [base.people[0]!, ben] };
      const found = holdTo(estate, everyCall());
      held += found.held;
      broke += found.broke;
    }),
    { numRuns: Number(process.env.HOSTLER_RUNS ?? 5) },
  );
  expect(Math.min(held, broke)).toBeGreaterThan(5);
});
