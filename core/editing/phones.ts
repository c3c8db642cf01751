import {
  isNumberKind,
  mapLine,
  mapPlan,
  type E164,
  type Endpoint,
  type EndpointKind,
  type Person,
  type PlanMap,
  type RingTarget,
  type SimpleEnding,
} from '../estate';
import { freeId, moved } from './lists';
import { carefulTarget, ringWithFirstStage, type TreatmentAt } from './edit';

/** A phone that somebody gets. */
export interface NewPhone {
  readonly kind: EndpointKind;
  readonly label: string;
  /** Of a mobile or landline. */
  readonly number?: E164;
  /** Of a SIP address. */
  readonly uri?: string;
}

/** An id for a phone of this person that no other phone of theirs has. */
export const phoneId = (person: Person, kind: EndpointKind): string =>
  freeId(
    `${person.id}-${kind}`,
    person.endpoints.map(({ id }) => id),
  );

/**
 * Gives the person a phone after those they have.
 * @param at the treatment in which it rings together with the first stage; null: it rings nowhere yet
 */
export function addPhone(person: Person, phone: NewPhone, at: TreatmentAt | null): Person {
  const { kind, label, number, uri } = phone;
  const endpoint: Endpoint = {
    id: phoneId(person, kind),
    label,
    kind,
    ...(number === undefined ? {} : { number }),
    ...(uri === undefined ? {} : { uri }),
  };
  const next = { ...person, endpoints: [...person.endpoints, endpoint] };
  if (at === null) return next;
  return ringWithFirstStage(
    next,
    isNumberKind(kind) ? carefulTarget(endpoint.id) : { endpoint: endpoint.id },
    at,
  );
}

/** Moves a phone among the person's phones, by so many places. */
export function movePhone(person: Person, id: string, by: number): Person {
  const from = person.endpoints.findIndex((each) => each.id === id);
  return { ...person, endpoints: moved(person.endpoints, from, from + by) };
}

/**
 * A target once phones are gone: null if it is one of them. What rang only by the registration of one rings always
 * then: better a phone too many than a call lost.
 */
export function targetWithout(target: RingTarget, isGone: (endpoint: string) => boolean): RingTarget | null {
  if (isGone(target.endpoint)) return null;
  const { whileRegistered, unlessRegistered, ...rest } = target;
  return {
    ...rest,
    ...(whileRegistered === undefined || isGone(whileRegistered) ? {} : { whileRegistered }),
    ...(unlessRegistered === undefined || isGone(unlessRegistered) ? {} : { unlessRegistered }),
  };
}

/** What becomes of the endings and phones of a plan when a phone is gone: its calls go elsewhere, nothing rings it. */
export const withoutEndpoint = (gone: string, instead: SimpleEnding): PlanMap => ({
  ending: (ending) => (ending.kind === 'endpoint' && ending.endpoint === gone ? instead : ending),
  target: (target) => targetWithout(target, (endpoint) => endpoint === gone),
});

/** The person's plan and forwards without a phone, whoever's it is: what led to it ends in their voicemail. */
export function planWithout(person: Person, gone: string): Person {
  const map = withoutEndpoint(gone, { kind: 'mailbox' });
  return {
    ...person,
    plan: mapPlan(person.plan, map),
    lines: person.lines.map((line) => mapLine(line, map)),
  };
}

/** The person without one of their phones: nothing of their plan, forwards or outgoing calls uses it any more. */
export function withoutPhone(person: Person, gone: string): Person {
  const { callsFrom, ...rest } = planWithout(person, gone);
  const kept = callsFrom?.filter(({ endpoint }) => endpoint !== gone) ?? [];
  return {
    ...rest,
    endpoints: person.endpoints.filter(({ id }) => id !== gone),
    ...(kept.length > 0 ? { callsFrom: kept } : {}),
  };
}
