import {
  DEFAULT_SEAT,
  isNumberKind,
  type Confirm,
  type Endpoint,
  type EndpointId,
  type Estate,
  type Member,
  type Ms,
  type PersonId,
  type RingTarget,
  type Seat,
  type SeatPhone,
} from '../../estate';
import type { SeatInCall, World } from '../../calls/engine';

/** What a proof goes through of a seat: nobody signed on, and somebody at one of these phones. */
export interface SeatPhones {
  readonly seat: Seat;
  /** Each with whether it is a number outside, which asks for a key. */
  readonly phones: readonly { readonly at: SeatPhone; readonly id: EndpointId; readonly outside: boolean }[];
}

/** Beyond so many seats, or so many ways together, no seat, one or all are signed on to; what lies between is not proved. */
const MOST_SEATS_EACH = 4;
const MOST_WAYS = 400;

const seatsIn = ({ groups, seats = [] }: Pick<Estate, 'groups' | 'seats'>): readonly Seat[] => {
  const used = new Set(groups.flatMap(({ members }) => members.flatMap(idOfSeat)));
  return seats.filter(({ id }) => used.has(id));
};
const idOfSeat = (member: Member): string[] => ('seat' in member ? [member.seat] : []);

const isMobile = ({ kind }: Endpoint) => kind === 'mobile' || kind === 'mobile-app';
const isOutside = ({ kind }: Endpoint) => isNumberKind(kind);

/**
 * The phones that stand for those that somebody may be at: one that registers and a mobile of nobody here, the mobile
 * phones of the person that calls are for, and of others one number for each permission that it is dialled with.
 */
export function seatPhones(slice: Estate, personId: PersonId): ReadonlyMap<string, SeatPhones> {
  const seats = seatsIn(slice);
  if (seats.length === 0) return new Map();
  const all = slice.people.flatMap((person) => person.endpoints.map((endpoint) => ({ person, endpoint })));
  const numbers = all.flatMap(({ endpoint }) => endpoint.number ?? []);
  const lines = slice.people.flatMap((each) => each.lines.flatMap((line) => line.numbers));
  const known: SeatPhones['phones'] = [
    ...all.filter(({ person, endpoint }) => person.id === personId && isMobile(endpoint)),
    ...new Map(
      all
        .filter(({ person, endpoint }) => person.id !== personId && isOutside(endpoint))
        .map((each) => [each.person.permission, each] as const),
    ).values(),
  ].map(({ endpoint }) => ({
    at: { endpoint: endpoint.id },
    id: endpoint.id,
    outside: isOutside(endpoint),
  }));
  return new Map(
    seats.map((seat, i) => {
      const sip = `sip:seat-${i}@seats.invalid`;
      const outside = [...numbers, ...lines];
      const number = outside[i % Math.max(1, outside.length)];
      return [
        seat.id,
        {
          seat,
          phones: [
            { at: { sip }, id: sip, outside: false },
            ...(number === undefined ? [] : [{ at: { number }, id: number, outside: true }]),
            ...known,
          ],
        },
      ] as const;
    }),
  );
}

const target = (endpoint: EndpointId, confirm: Confirm): RingTarget =>
  confirm === 'none' ? { endpoint } : { endpoint, confirm };

/** Every target that a seat can contribute in a proof. */
export function seatTargets(phones: SeatPhones | undefined): readonly RingTarget[] {
  if (!phones) return [];
  const { unattended } = phones.seat;
  const passed =
    unattended && 'passTo' in unattended
      ? 'number' in unattended.passTo
        ? [target(unattended.passTo.number, unattended.confirm ?? 'key')]
        : [target(unattended.passTo.sip, unattended.confirm ?? 'none')]
      : [];
  return [...phones.phones.map(({ id, outside }) => target(id, outside ? 'key' : 'none')), ...passed];
}

/** Every way in which one seat can stand. */
export const seatCases = ({ seat, phones }: SeatPhones): readonly SeatInCall[] => [
  {},
  ...phones.map(({ at }) => ({ state: 'ready' as const, at })),
  // With all its calls taken, one that nobody needs to sit at does nothing either.
  ...(seat.unattended ? [{ calls: seat.callsAtOnce ?? DEFAULT_SEAT.callsAtOnce }] : []),
];

/** Whether seats are gone through in every combination. */
export const isEachSeat = (all: ReadonlyMap<string, SeatPhones>): boolean =>
  all.size <= MOST_SEATS_EACH &&
  [...all.values()].reduce((ways, seat) => ways * seatCases(seat).length, 1) <= MOST_WAYS;

/** The ways in which many seats together are gone through: none, one, all. */
export function manySeatCases(
  all: ReadonlyMap<string, SeatPhones>,
): readonly Readonly<Record<string, SeatInCall>>[] {
  const each = [...all.values()];
  const most = Math.max(...each.map(({ phones }) => phones.length));
  const ready = ({ seat, phones }: SeatPhones, n: number) =>
    phones[n] ? [[seat.id, { state: 'ready' as const, at: phones[n].at }] as const] : [];
  return [
    {},
    ...each.flatMap((one) => one.phones.map((_, n) => Object.fromEntries(ready(one, n)))),
    ...Array.from({ length: most }, (_, n) => Object.fromEntries(each.flatMap((one) => ready(one, n)))),
  ];
}

/** A seat among the members of a group, beside the ids of people and phones. */
export const SEAT_MEMBER = 'seat/';

/** How long seats were idle stands with the seats. */
export function idleAndSeats(
  idleMs: Readonly<Record<string, Ms>>,
  seats: Readonly<Record<string, SeatInCall>>,
): Pick<World, 'idleMs' | 'seats'> {
  const of = (isSeat: boolean) =>
    Object.entries(idleMs).filter(([id]) => id.startsWith(SEAT_MEMBER) === isSeat);
  const others = of(false);
  const all: Record<string, SeatInCall> = { ...seats };
  for (const [id, idle] of of(true)) {
    const seat = id.slice(SEAT_MEMBER.length);
    all[seat] = { ...all[seat], idleMs: idle };
  }
  return {
    ...(others.length ? { idleMs: Object.fromEntries(others) } : {}),
    ...(Object.keys(all).length ? { seats: all } : {}),
  };
}
