import { mixed, type AnySchema } from 'yup';
import { ARRIVALS, faultsOf, parts, SEAT_STATES, seatPhone, type Fault } from '../../estate';
import { instantOf } from '../time';
import type { EstateIndex } from './compile';
import {
  ENDPOINT_STATES,
  type Call,
  type EndpointBehaviour,
  type Press,
  type SeatInCall,
  type World,
} from './types';

const { choose, closed, count, id, isObject, maybe, ms, oneOf, requiredText, text } = parts;

/** An object whose keys are ids and whose values all follow one schema. */
const keyed = (value: AnySchema) =>
  choose((given: unknown): AnySchema => {
    if (given === undefined) return mixed();
    if (!isObject(given)) return mixed().test('object', 'must be an object', () => false);
    return closed(Object.fromEntries(Object.keys(given).map((key) => [key, value])));
  });

const behaviour = closed<EndpointBehaviour>({
  state: oneOf(ENDPOINT_STATES),
  setupMs: ms(),
  answerAfterMs: ms().nullable(),
  rejectAfterMs: ms().nullable(),
  mailboxAfterMs: ms().nullable(),
  offAnswerMs: ms(),
  pressAfterMs: ms().nullable(),
  refuseAfterMs: ms().nullable(),
});

const seatInCall = closed<SeatInCall>({
  person: id(),
  at: seatPhone(),
  state: oneOf(SEAT_STATES),
  calls: count(),
  idleMs: ms(),
});

export const callSchema = closed<Call>({
  from: text(40)
    .nullable()
    .defined('is missing: give null for a withheld number')
    .matches(/^\+?\d+$/, 'must be an E.164 number, an extension, or null for a withheld number'),
  to: requiredText(40),
  at: requiredText(40).test(
    'instant',
    'must be an ISO 8601 time with its offset, such as 2026-11-24T14:20:00-07:00',
    (value) => value === undefined || instantOf(value) !== null,
  ),
  arrival: oneOf(ARRIVALS),
  patienceMs: ms().nullable(),
  world: maybe(
    closed<World>({
      endpoints: keyed(behaviour),
      activeCalls: keyed(count()),
      trunkUse: keyed(count()),
      presses: keyed(closed<Press>({ key: requiredText(1), afterMs: ms().required('is missing') })),
      code: maybe(closed({ digits: text(64).defined('is missing'), afterMs: ms().required('is missing') })),
      groupLast: keyed(count()),
      idleMs: keyed(count()),
      seats: keyed(seatInCall),
    }),
  ),
});

/** Faults in a call's form, each with the path of its field below `base`. */
export const callFaults = (value: unknown, base = ''): Fault[] => faultsOf(callSchema, value, base);

/** Ids in a call's world that the estate does not have: they change nothing, and are likely misspelt. */
export function strangersInWorld(index: EstateIndex, call: Call, base = ''): Fault[] {
  const outside = (id: string) => /^(\+|sips?:)/.test(id);
  const has: Record<string, (id: string) => boolean> = {
    endpoints: (id) => index.endpoints.has(id) || outside(id),
    activeCalls: (id) => index.people.has(id),
    trunkUse: (id) => index.estate.trunks.some((trunk) => trunk.id === id),
    presses: (id) => id === 'offer' || index.menus.has(id),
    groupLast: (id) => index.groups.has(id),
    idleMs: (id) => index.people.has(id) || index.endpoints.has(id),
    seats: (id) => index.seats.has(id),
  };
  return Object.entries(has).flatMap(([part, known]) =>
    Object.keys((call.world as Record<string, object> | undefined)?.[part] ?? {})
      .filter((id) => !known(id))
      .map((id) => ({
        path: `${base ? `${base}.` : ''}world.${part}.${id}`,
        message: 'is not in the estate and changes nothing',
      })),
  );
}
