import type { OwnSeats, SeatNowPage, SeatSitting, SeatStatesPage } from '../../api/seats';
import { legEndText, LEG_ENDS, type LegEnd } from '../../core/calls/engine';
import { readNumber, showNumber } from '../../core/calls/dialling';
import { parts, seatPhone, type SeatPhone } from '../../core/estate';
import { stateOf } from '../../core/seats';
import { hashCode } from '../auth';
import { notRight, refusal, ROLES, STAFF } from '../base';
import { inTransaction } from '../db';
import type { LiveEstate } from '../estate';
import { checkedBody, me, type Route, type Services, type SignedIn } from '../http';
import { addRecord } from '../record';
import { putSecret, readSecret, removeSecret } from '../secrets';
import { checkSeatPassword, secretOf } from './password';
import { offersOf, openSeat, openSeats, type StoredSeatOn } from './queries';
import { pauseSeat, seatNamed, signOffSeat, signOnToSeat, type SeatWanted } from './sign-on';

const MAY_SIGN_ON = ['specialist', 'help-desk'] as const;
const ONLY_STAFF = [STAFF] as const;
const MOST_OFFERED = 30;
/** A phone as it is asked for: a number in any form that can be read. */
const phoneBody = {
  at: parts.choose((value) => {
    if (!parts.isObject(value)) return parts.closed({ endpoint: parts.requiredId() });
    if ('number' in value) return parts.closed({ number: parts.requiredText(40) });
    return 'sip' in value ? seatPhone() : parts.closed({ endpoint: parts.requiredId() });
  }),
};
const onBody = parts.closed<{ person: string; at: unknown; confirmed: boolean }>({
  person: parts.requiredId(),
  ...phoneBody,
  confirmed: parts.flag(),
});
const ownBody = parts.closed<{ at: unknown; password: string; confirmed: boolean }>({
  ...phoneBody,
  password: parts.text(64),
  confirmed: parts.flag(),
});
const pauseBody = parts.closed<{ why: string | null }>({
  why: parts.text(100).nullable().defined('is missing'),
});
const passwordBody = parts.closed<{ password: string | null }>({
  password: parts
    .text(64)
    .nullable()
    .defined('is missing')
    .matches(/^\d{4,12}$/, 'must be 4 to 12 digits, so that it can be typed at a phone'),
});

export function sittingOf(
  { finder, index }: LiveEstate,
  on: StoredSeatOn,
  { now, phones }: Pick<Services, 'now' | 'phones'>,
): SeatSitting {
  const nowMs = now().getTime();
  const seat = index.seats.get(on.seat);
  const person = finder.person(on.person);
  const { at } = on;
  return {
    person: on.person,
    name: person?.name ?? 'Somebody who is gone',
    at,
    phone:
      'endpoint' in at
        ? (person?.endpoints.find(({ id }) => id === at.endpoint)?.label ?? at.endpoint)
        : 'number' in at
          ? showNumber(at.number)
          : at.sip,
    since: new Date(on.sinceMs).toISOString(),
    state: seat ? stateOf(seat, on, nowMs) : 'signed-off',
    why: on.pausedWhy,
    leaving: Boolean(on.leaving),
    next: on.leaving?.next ? (finder.person(on.leaving.next.person)?.name ?? null) : null,
    misses: on.misses,
    calls: on.calls,
    idleSince: new Date(on.idleSinceMs).toISOString(),
    wrapUntil: on.wrapUntilMs === null ? null : new Date(on.wrapUntilMs).toISOString(),
    line: phones.heldAt(on.seat),
  };
}

/** Numbers are taken in any form that can be read, and kept as E.164. */
function phoneOf({ estate }: LiveEstate, at: SeatPhone): SeatPhone {
  if (!('number' in at)) return at;
  const read = readNumber(at.number, estate.dialling);
  if (!read.ok) throw notRight([{ path: 'at.number', message: 'is no number that can be called' }]);
  return { number: read.e164 };
}

async function signedOn({ services }: Pick<SignedIn, 'services'>, wanted: SeatWanted) {
  const done = await signOnToSeat(services, wanted);
  if (done.ok)
    return {
      status: done.waits ? 202 : 200,
      body: { seat: done.seat.id, person: done.person.id, waits: done.waits },
    };
  const status =
    done.why === 'no-such-seat' || done.why === 'no-such-person' ? 404 : done.why === 'locked' ? 429 : 409;
  throw refusal(status, done.says, { extra: { why: done.why, mayConfirm: done.why === 'taken' } });
}

async function mustSit(services: Services, seat: string | undefined): Promise<StoredSeatOn> {
  const on = await openSeat(services.db, seat ?? '');
  if (!on) throw refusal(409, 'Nobody is signed on to this seat any more.');
  return on;
}

async function signedOff(
  { services, account }: SignedIn,
  on: StoredSeatOn,
  why: 'by-hand' | 'by-specialist',
) {
  const done = await signOffSeat(services, on, why, account.name);
  if (done === null) throw refusal(409, 'Nobody is signed on to this seat any more.');
  return done === 'off' ? { status: 204 } : { status: 202, body: { waits: true } };
}

/** The sign-on of a seat, if it is the person's own. */
async function mustBeMine(context: SignedIn): Promise<StoredSeatOn> {
  const { person } = await me(context);
  const on = await mustSit(context.services, context.params.id);
  if (on.person !== person.id) throw refusal(409, 'You are not signed on to this seat any more.');
  return on;
}

/** @throws Refusal 400 where a password is needed and none was typed */
async function credentialOf(
  services: Services,
  seat: string,
  person: string,
  typed: string | undefined,
): Promise<SeatWanted['credential']> {
  const credential = await checkSeatPassword(services, seat, person, typed);
  if (credential === 'missing') throw notRight([{ path: 'password', message: 'is missing' }]);
  return credential;
}

export const seatRoutes: readonly Route[] = [
  {
    method: 'GET',
    path: '/api/seats/now',
    roles: ROLES,
    handle: async ({ services }) => {
      const live = await services.store.current();
      const open = await openSeats(services.db);
      return {
        body: {
          seats: Object.fromEntries(open.map((on) => [on.seat, sittingOf(live, on, services)])),
        } satisfies SeatStatesPage,
      };
    },
  },
  {
    method: 'GET',
    path: '/api/seats/:id/now',
    roles: ROLES,
    handle: async ({ services, params }) => {
      const live = await services.store.current();
      const seat = seatNamed(live, params.id);
      if (!seat) throw refusal(404, 'There is no such seat.');
      const on = await openSeat(services.db, seat.id);
      const offers = await offersOf(services.db, seat.id, MOST_OFFERED);
      const isEnd = (end: string): end is LegEnd => LEG_ENDS.some((each) => each === end);
      return {
        body: {
          sitting: on ? sittingOf(live, on, services) : null,
          hasPassword: (await readSecret(services.db, services.secrets, secretOf(seat.id))) !== null,
          offered: offers.map((each) => ({
            at: each.at.toISOString(),
            name: live.finder.person(each.person)?.name ?? 'Somebody who is gone',
            rangMs: each.rangMs,
            end: isEnd(each.end) ? legEndText(each.end) : each.end,
            talkedMs: each.talkedMs,
          })),
        } satisfies SeatNowPage,
      };
    },
  },
  {
    method: 'POST',
    path: '/api/seats/:id/sign-on',
    roles: MAY_SIGN_ON,
    handle: async (context) => {
      const { services, account, params } = context;
      const { person, at, confirmed } = checkedBody<{ person: string; at: SeatPhone; confirmed?: boolean }>(
        context.body,
        onBody,
      );
      return signedOn(context, {
        seat: params.id ?? '',
        person,
        at: phoneOf(await services.store.current(), at),
        credential: 'right',
        confirmed: confirmed ?? false,
        who: account.name,
      });
    },
  },
  {
    method: 'POST',
    path: '/api/seats/:id/sign-off',
    roles: MAY_SIGN_ON,
    handle: async (context) =>
      signedOff(context, await mustSit(context.services, context.params.id), 'by-specialist'),
  },
  {
    /** Pauses with a reason; null: it goes on. */
    method: 'PUT',
    path: '/api/seats/:id/paused',
    roles: MAY_SIGN_ON,
    handle: async ({ services, params, body, account }) => {
      const { why } = checkedBody<{ why: string | null }>(body, pauseBody);
      await pauseSeat(services, params.id ?? '', why, account.name);
      return { status: 204 };
    },
  },
  {
    /** What is asked for where people sign on to it by themselves; null: nothing. */
    method: 'PUT',
    path: '/api/seats/:id/password',
    roles: ['specialist'],
    handle: async ({ services, params, body, account }) => {
      const { password } = checkedBody<{ password: string | null }>(body, passwordBody);
      const seat = seatNamed(await services.store.current(), params.id);
      if (!seat) throw refusal(404, 'There is no such seat.');
      const hash = password === null ? null : await hashCode(password);
      await inTransaction(services.db, async (tx) => {
        if (hash === null) await removeSecret(tx, secretOf(seat.id));
        else await putSecret(tx, services.secrets, secretOf(seat.id), hash);
        await addRecord(tx, {
          who: account.name,
          kind: 'seat-password',
          subject: seat.name,
          detail: hash === null ? 'taken away' : '',
        });
      });
      return { status: 204 };
    },
  },
  {
    method: 'GET',
    path: '/api/own/seats',
    roles: ONLY_STAFF,
    // One’s own phones are read back whole; of others there are names alone.
    unmasked: true,
    handle: async (context) => {
      const { services } = context;
      const { live, person } = await me(context);
      const open = new Map((await openSeats(services.db)).map((on) => [on.seat, on]));
      const seats = live.estate.seats ?? [];
      const guarded = await Promise.all(
        seats.map(({ id }) => readSecret(services.db, services.secrets, secretOf(id))),
      );
      return {
        body: {
          seats: seats.map(({ id, name }, n) => {
            const on = open.get(id);
            return {
              id,
              name,
              groups: live.estate.groups
                .filter(({ members }) => members.some((each) => 'seat' in each && each.seat === id))
                .map((group) => group.name),
              takenBy:
                on && on.person !== person.id
                  ? (live.finder.person(on.person)?.name ?? 'Somebody who is gone')
                  : null,
              mine: on?.person === person.id ? sittingOf(live, on, services) : null,
              needsPassword: guarded[n] !== null,
            };
          }),
          phones: person.endpoints.map(({ id, label, number }) => ({ id, label, number: number ?? null })),
        } satisfies OwnSeats,
      };
    },
  },
  {
    method: 'POST',
    path: '/api/own/seats/:id/sign-on',
    roles: ONLY_STAFF,
    handle: async (context) => {
      const { services, params } = context;
      const { at, password, confirmed } = checkedBody<{
        at: SeatPhone;
        password?: string;
        confirmed?: boolean;
      }>(context.body, ownBody);
      const { live, person } = await me(context);
      return signedOn(context, {
        seat: params.id ?? '',
        person: person.id,
        at: phoneOf(live, at),
        credential: await credentialOf(services, params.id ?? '', person.id, password),
        confirmed: confirmed ?? false,
        who: person.name,
      });
    },
  },
  {
    method: 'POST',
    path: '/api/own/seats/:id/sign-off',
    roles: ONLY_STAFF,
    handle: async (context) => signedOff(context, await mustBeMine(context), 'by-hand'),
  },
  {
    method: 'PUT',
    path: '/api/own/seats/:id/paused',
    roles: ONLY_STAFF,
    handle: async (context) => {
      const { why } = checkedBody<{ why: string | null }>(context.body, pauseBody);
      const on = await mustBeMine(context);
      await pauseSeat(context.services, on.seat, why, context.account.name);
      return { status: 204 };
    },
  },
];
