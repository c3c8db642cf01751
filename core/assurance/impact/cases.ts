import type { Estate, Person } from '../../estate';
import {
  ANY_INSIDE_CALLER,
  ANY_OUTSIDE_CALLER,
  type EndpointBehaviour,
  type World,
} from '../../calls/engine';
import type { CaseKind } from './types';

/** The soonest that a person answers in these cases, ms from alerting. */
export const ANSWER_AFTER_MS = 4000;

export interface ImpactCase {
  readonly kind: CaseKind;
  readonly at: string;
  readonly world: World;
}
export interface Caller {
  readonly kind: 'outside' | 'inside' | 'withheld' | 'listed';
  readonly from: string | null;
}

const one = (id: string, does: EndpointBehaviour): World => ({ endpoints: { [id]: does } });

/** The phones of both versions of a person, those that are there in both once. */
const phonesOf = (versions: readonly Person[]) => [
  ...new Map(versions.flatMap(({ endpoints }) => endpoints.map((each) => [each.id, each] as const))).values(),
];

/** What the phones of a person, the person and the caller can do in a call, each thing by itself. */
export function casesOf(versions: readonly Person[], slices: readonly Estate[]): readonly ImpactCase[] {
  const phones = phonesOf(versions);
  const cases: ImpactCase[] = [{ kind: 'nobody', at: '', world: {} }];
  for (const { id, kind, number } of phones) {
    cases.push({ kind: 'answers', at: kind, world: one(id, { answerAfterMs: ANSWER_AFTER_MS }) });
    cases.push({ kind: 'rejects', at: kind, world: one(id, { rejectAfterMs: ANSWER_AFTER_MS }) });
    if (number !== undefined) cases.push({ kind: 'off', at: kind, world: one(id, { state: 'off' }) });
    else cases.push({ kind: 'signed-out', at: kind, world: one(id, { state: 'unregistered' }) });
  }
  if (phones.length > 1)
    cases.push({
      kind: 'all-off',
      at: '',
      world: {
        endpoints: Object.fromEntries(
          phones.map(({ id, number }) => [id, { state: number === undefined ? 'unregistered' : 'off' }]),
        ),
      },
    });
  const [first] = versions;
  if (first)
    cases.push({
      kind: 'engaged',
      at: '',
      world: { activeCalls: { [first.id]: Math.max(...versions.map(({ maxCalls }) => maxCalls)) } },
    });
  cases.push(...seatsOf(slices), ...pressesOf(versions, slices));
  return cases;
}

/** A phone that stands for whichever somebody is at who is signed on to a seat. */
export const phoneOfSeat = (id: string): string => `sip:${encodeURIComponent(id)}${AT_A_SEAT}`;
const AT_A_SEAT = '@seats.invalid';
/** The seat of such a phone; null: it is another. */
export const seatOfPhone = (endpoint: string): string | null =>
  endpoint.endsWith(AT_A_SEAT) ? decodeURIComponent(endpoint.slice('sip:'.length, -AT_A_SEAT.length)) : null;

/** Somebody signed on to each seat on the way, who takes the call; and somebody at every one, of whom nobody does. */
function seatsOf(slices: readonly Estate[]): readonly ImpactCase[] {
  const ids = [...new Set(slices.flatMap(({ seats = [] }) => seats.map(({ id }) => id)))];
  if (ids.length === 0) return [];
  const on = (some: readonly string[]): World => ({
    seats: Object.fromEntries(some.map((id) => [id, { state: 'ready', at: { sip: phoneOfSeat(id) } }])),
  });
  return [
    ...ids.map((id): ImpactCase => ({
      kind: 'seat-answers',
      at: id,
      world: { ...on([id]), ...one(phoneOfSeat(id), { answerAfterMs: ANSWER_AFTER_MS }) },
    })),
    { kind: 'seats-on', at: '', world: on(ids) },
  ];
}

/** The keys that a caller can press in an offer or a menu on the way, and the codes that are asked for. */
function pressesOf(versions: readonly Person[], slices: readonly Estate[]): readonly ImpactCase[] {
  const cases = new Map<string, ImpactCase>();
  for (const { plan } of versions)
    for (const { stages } of [...plan.rules, plan.otherwise])
      for (const stage of stages) {
        if ('offer' in stage)
          for (const { key } of stage.offer.choices)
            cases.set(`offer ${key}`, {
              kind: 'press',
              at: key,
              world: { presses: { offer: { key, afterMs: 0 } } },
            });
        if ('code' in stage)
          cases.set(`code ${stage.code.digits}`, {
            kind: 'code',
            at: '',
            world: { code: { digits: stage.code.digits, afterMs: 0 } },
          });
      }
  for (const { menus } of slices)
    for (const menu of menus)
      for (const { choices } of menu.rules)
        for (const { key } of choices)
          cases.set(`${menu.id} ${key}`, {
            kind: 'press',
            at: key,
            world: { presses: { [menu.id]: { key, afterMs: 0 } } },
          });
  return [...cases.values()];
}

/** Who calls, as far as anything on the way asks for it. */
export function callersOf(slices: readonly Estate[]): readonly Caller[] {
  const callers = new Map<string, Caller>([['outside', { kind: 'outside', from: ANY_OUTSIDE_CALLER }]]);
  const see = (when: { readonly caller?: { readonly numbers?: readonly string[] } }) => {
    if (!when.caller) return;
    callers.set('inside', { kind: 'inside', from: ANY_INSIDE_CALLER });
    callers.set('withheld', { kind: 'withheld', from: null });
    for (const number of when.caller.numbers ?? []) callers.set(number, { kind: 'listed', from: number });
  };
  for (const { people, menus } of slices) {
    for (const { plan } of people) plan.rules.forEach(({ when }) => see(when));
    for (const menu of menus) menu.rules.forEach(({ when }) => see(when));
  }
  return [...callers.values()];
}

/** The schedules that something on the way looks at. */
export function schedulesOf(slices: readonly Estate[]): ReadonlySet<string> {
  const ids = new Set<string>();
  const see = (test: { readonly id: string } | undefined) => test && ids.add(test.id);
  for (const { people, menus } of slices) {
    for (const { plan } of people)
      for (const treatment of [
        ...plan.rules,
        { ...plan.otherwise, when: {} as { schedule?: { id: string } } },
      ]) {
        see(treatment.when.schedule);
        for (const stage of treatment.stages)
          if ('ring' in stage) stage.ring.forEach(({ schedule }) => see(schedule));
      }
    for (const menu of menus) menu.rules.forEach(({ when }) => see(when.schedule));
  }
  return ids;
}

/** The statuses that a person's own rules ask for in some version, the person's own first. */
export const statusesOf = (versions: readonly Person[]): readonly string[] => [
  ...new Set([
    ...versions.map(({ status }) => status),
    ...versions.flatMap(({ plan }) => plan.rules.flatMap(({ when }) => when.status ?? [])),
  ]),
];
