import { DESK_TRIES, type DeskPage, type DeskTry } from '../../api/desks';
import { deskEndpoint, sayRefusal } from '../../core/desks';
import { deskModel, restartsForMs } from '../../core/devices/provisioning';
import { parts, type Desk, type Estate } from '../../core/estate';
import { instantOf } from '../../core/calls/time';
import { notRight, refusal, ROLES, STAFF } from '../base';
import { inTransaction } from '../db';
import type { LiveEstate } from '../estate';
import { checkedBody, me, type Route, type SignedIn } from '../http';
import { checkPin } from '../pins';
import { addRecord } from '../record';
import { BADGE_DIGITS, badgeMark, codeOfDay, putBadge } from './marks';
import { openAt, openOf, signOnsIn, type DeskSignOn } from './queries';
import { isInCall, signOff, signOn, siteOf, type Wanted } from './sign-on';
import { DAY_MS, deskOfPerson, ownDesks, placeOf, sittingAt, sittingOf } from './sitting';

const MAY_SIGN_ON = ['specialist', 'help-desk'] as const;
const ONLY_STAFF = [STAFF] as const;
const WEEK_DAYS = 7;
const MOST_OF_A_WEEK = 500;

const onBody = parts.closed<{ person: string; confirmed: boolean }>({
  person: parts.requiredId(),
  confirmed: parts.flag(),
});
const ownBody = parts.closed<{ pin: string; code: string; confirmed: boolean }>({
  pin: parts.text(64),
  code: parts.text(16),
  confirmed: parts.flag(),
});
const pressBody = parts.closed<{ typed: readonly string[]; tries: DeskTry }>({
  tries: parts.oneOf(DESK_TRIES),
  typed: parts.list(parts.text(20).matches(/^\d*$/, 'must be digits')).max(6).required('is missing'),
});
const badgeBody = parts.closed<{ digits: string | null }>({
  digits: parts
    .text(32)
    .nullable()
    .defined('is missing')
    .matches(BADGE_DIGITS, 'must be 4 to 32 digits, as the reader types them'),
});

async function signedOn({ services }: SignedIn, wanted: Wanted): Promise<{ body: object }> {
  const done = await signOn(services, wanted);
  if (done.ok)
    return {
      body: {
        desk: done.desk.id,
        name: done.desk.name,
        person: done.person.id,
        since: done.since.toISOString(),
      },
    };
  const { estate } = await services.store.current();
  const taken = estate.desks?.find(({ id }) => id === wanted.desk)?.taken;
  const status =
    done.why === 'no-such-desk' || done.why === 'no-such-person' ? 404 : done.why === 'locked' ? 429 : 409;
  throw refusal(
    status,
    sayRefusal(done.why, { occupant: done.occupant?.name ?? null, ...(taken ? { taken } : {}) }),
    { extra: { why: done.why, mayConfirm: done.why === 'taken' && taken === 'ask' } },
  );
}

/** How long a caller lets it ring who leaves a message as a try, and speaks then, ms. */
const STAYS = { ringMs: 60_000, talkMs: 2000 };

/** Calls whoever sits at a desk from outside, and speaks once their mailbox has answered, or whoever does. */
async function leaveMessage(
  { services, account }: SignedIn,
  live: LiveEstate,
  desk: Desk,
): Promise<{ body: { heard: readonly string[] } }> {
  const [here] = await openAt(services.db, desk.id, '');
  const person = here && live.finder.person(here.person);
  const number = person?.lines.flatMap(({ numbers, extension }) => numbers[0] ?? extension ?? [])[0];
  if (!person) throw refusal(409, 'Nobody sits there: there is no mailbox to leave a message in.');
  if (number === undefined) throw refusal(409, `${person.name} has no line to call.`);
  const tried = await services.phones.tryAccess({
    number,
    from: null,
    isVerified: false,
    typed: [],
    hangsUp: false,
    stays: STAYS,
  });
  if (!tried) throw refusal(409, 'The phone system is not up.');
  await addRecord(services.db, {
    who: account.name,
    kind: 'message-tried',
    personId: person.id,
    subject: person.name,
  });
  return { body: { heard: tried.heard } };
}

/** Ends a sign-on by hand, but never a call. */
async function signedOff(
  { services, account }: SignedIn,
  on: DeskSignOn | null,
  why: 'by-hand' | 'by-specialist',
): Promise<{ status: number }> {
  const live = await services.store.current();
  if (!on) throw refusal(409, 'Nobody is signed on there any more.');
  if (isInCall(services, live, on, on.desk)) throw refusal(409, sayRefusal('in-call'));
  await signOff(services, on, why, account.name);
  services.phones.signOnsChanged();
  return { status: 204 };
}

/** Why nothing can be dialled at a desk’s phone. */
function sayNotThere(estate: Estate, desk: Desk): string {
  const model = deskModel(estate, desk);
  const ms = restartsForMs(model);
  const says = `The stand-in of ${desk.name} is not registered.`;
  return ms === 0
    ? says
    : `${says} A ${model?.name} restarts for whoever signs on or off, about ${Math.round(ms / 1000)} s: try it again then.`;
}

async function deskNamed({ services, params }: SignedIn) {
  const live = await services.store.current();
  const desk = live.estate.desks?.find(({ id }) => id === params.id);
  if (!desk) throw refusal(404, 'There is no such desk.');
  return { live, desk };
}

export const signOnRoutes: readonly Route[] = [
  {
    /** Who sits where: `?at=` an instant, ISO 8601; left out: now. */
    method: 'GET',
    path: '/api/desks/sitting',
    roles: ROLES,
    handle: async ({ services, query }) => {
      const at = query.at === undefined ? null : instantOf(query.at);
      if (query.at !== undefined && at === null)
        throw refusal(400, 'A moment is named like 2026-11-24T14:20:00-07:00.');
      return { body: await sittingAt(services, at === null ? null : new Date(at)) };
    },
  },
  {
    method: 'GET',
    path: '/api/desks/:id/page',
    roles: ROLES,
    handle: async (context) => {
      const { services, account } = context;
      const { live, desk } = await deskNamed(context);
      const now = services.now().getTime();
      const fromMs = now - WEEK_DAYS * DAY_MS;
      const [here] = await openAt(services.db, desk.id, '');
      const site = siteOf(live.estate, desk);
      const timeZone = site?.timeZone ?? live.estate.timeZone;
      const all = await signOnsIn(
        services.db,
        { desk: desk.id },
        new Date(fromMs),
        new Date(now + 1),
        MOST_OF_A_WEEK,
      );
      const mayHandOut = MAY_SIGN_ON.some((role) => role === account.role);
      return {
        body: {
          desk: placeOf(live, desk, here, now),
          fromMs,
          toMs: now,
          timeZone,
          sittings: all.map((each) => sittingOf(live, each)),
          code:
            desk.credential === 'code-and-pin' && mayHandOut
              ? await codeOfDay(services, desk.id, timeZone, now)
              : null,
        } satisfies DeskPage,
      };
    },
  },
  {
    method: 'POST',
    path: '/api/desks/:id/sign-on',
    roles: MAY_SIGN_ON,
    handle: (context) => {
      const { person, confirmed } = checkedBody<{ person: string; confirmed?: boolean }>(
        context.body,
        onBody,
      );
      return signedOn(context, {
        desk: context.params.id ?? '',
        person,
        how: 'by-specialist',
        credential: 'right',
        confirmed: confirmed ?? false,
        who: context.account.name,
      });
    },
  },
  {
    method: 'POST',
    path: '/api/desks/:id/sign-off',
    roles: MAY_SIGN_ON,
    handle: async (context) => {
      const [here] = await openAt(context.services.db, context.params.id ?? '', '');
      return signedOff(context, here ?? null, 'by-specialist');
    },
  },
  {
    /** Dials the code to sign on at the stand-in of the desk's phone, types, and tells what was heard there. */
    method: 'POST',
    path: '/api/desks/:id/press',
    roles: MAY_SIGN_ON,
    handle: async (context) => {
      const { services, account, body } = context;
      const { typed, tries = 'sign-on' } = checkedBody<{
        typed: readonly string[];
        tries?: DeskTry;
      }>(body, pressBody);
      const { live, desk } = await deskNamed(context);
      if (tries === 'leave-message') return leaveMessage(context, live, desk);
      const code = live.estate.dialling.codes?.find(({ acts }) => acts === tries)?.code;
      if (code === undefined)
        throw refusal(
          409,
          `There is no code ${tries === 'sign-on' ? 'to sign on at a shared desk' : 'that plays messages'}. Add one under Dialling.`,
        );
      const heard = await services.phones.press(deskEndpoint(desk.id), code, typed);
      if (heard === null) throw refusal(409, sayNotThere(live.estate, desk));
      await addRecord(services.db, {
        who: account.name,
        kind: 'code-dialled',
        subject: desk.name,
        detail: code,
      });
      return { body: { heard: heard.map((each) => each.replace(/^(ask|told) /, '')) } };
    },
  },
  {
    method: 'GET',
    path: '/api/people/:id/desk',
    roles: ROLES,
    handle: async ({ services, params }) => {
      const person = (await services.store.current()).finder.person(params.id ?? '');
      if (!person) throw refusal(404, 'There is no such person.');
      return { body: await deskOfPerson(services, person) };
    },
  },
  {
    /** A badge of a person: its digits as a reader types them; null takes it away. Only a mark of it is kept. */
    method: 'PUT',
    path: '/api/people/:id/badge',
    roles: ['specialist'],
    handle: async ({ services, params, body, account }) => {
      const { digits } = checkedBody<{ digits: string | null }>(body, badgeBody);
      const person = (await services.store.current()).finder.person(params.id ?? '');
      if (!person) throw refusal(404, 'There is no such person.');
      const badge = digits === null ? null : await badgeMark(services, digits);
      await inTransaction(services.db, async (tx) => {
        await putBadge(tx, person.id, badge, account.name, services.now());
        await addRecord(tx, {
          who: account.name,
          kind: 'badge-set',
          personId: person.id,
          subject: person.name,
          detail: digits === null ? 'taken away' : '',
        });
      });
      return { status: 204 };
    },
  },
  {
    method: 'GET',
    path: '/api/own/desks',
    roles: ONLY_STAFF,
    handle: async (context) => {
      const { person } = await me(context);
      return { body: await ownDesks(context.services, person) };
    },
  },
  {
    method: 'POST',
    path: '/api/own/desks/:id/sign-on',
    roles: ONLY_STAFF,
    handle: async (context) => {
      const { services, params } = context;
      const body = checkedBody<{ pin?: string; code?: string; confirmed?: boolean }>(context.body, ownBody);
      const { live, person } = await me(context);
      const desk = live.estate.desks?.find(({ id }) => id === params.id);
      let credential: Wanted['credential'] = 'right';
      if (desk && desk.credential !== 'page') {
        if (body.pin === undefined) throw notRight([{ path: 'pin', message: 'is missing' }]);
        const verdict = await checkPin(services, { person: person.id, typed: body.pin, at: desk.id });
        credential = verdict === 'right' || verdict === 'locked' ? verdict : 'wrong';
        if (desk.credential === 'code-and-pin' && credential === 'right') {
          const zone = siteOf(live.estate, desk)?.timeZone ?? live.estate.timeZone;
          const code = await codeOfDay(services, desk.id, zone, services.now().getTime());
          if (body.code !== code) credential = 'wrong';
        }
      }
      return signedOn(context, {
        desk: params.id ?? '',
        person: person.id,
        how: 'by-page',
        credential,
        confirmed: body.confirmed ?? false,
        who: person.name,
      });
    },
  },
  {
    method: 'POST',
    path: '/api/own/desks/sign-off',
    roles: ONLY_STAFF,
    handle: async (context) => {
      const { person } = await me(context);
      return signedOff(context, await openOf(context.services.db, person.id), 'by-hand');
    },
  },
];
