import type { OwnPage } from '../../api/own';
import { DateTime } from 'luxon';
import { parts, type Person } from '../../core/estate';
import {
  judgeWish,
  sayWish,
  wishSchema,
  type Judged,
  type OwnLimits,
  type Wish,
} from '../../core/changes/own';
import { APP_CHECKS, sayPlacing } from '../../core/devices/phones';
import { maskDeep } from '../../core/privacy';
import { ANY_OUTSIDE_CALLER } from '../../core/calls/engine';
import { awayBehaviours } from '../../core/desks';
import { sliceFor } from '../../core/editing';
import { atDesks } from '../desks';
import type { LiveEstate } from '../estate';
import { judgeReach, tryCall } from '../../core/calls/views';
import { isoIn } from '../../core/calls/time';
import { inTransaction } from '../db';
import { checkedBody, me, type Route, type Services, type SignedIn } from '../http';
import { notRight, refusal, STAFF } from '../base';
import { changePerson } from '../people';
import { readAccount, readSoundNotes } from '../switchboard';
import { putCheck, readChecks, statusesOf } from '../phones';
import { readPinDates, setPin } from '../pins';
import { addRecord } from '../record';
import {
  addRequest,
  answerRequest,
  lockRequest,
  mayAskMore,
  MOST_OPEN,
  putNote,
  readLimits,
  readNote,
  readRequests,
} from './queries';

const ONLY_STAFF = [STAFF] as const;
const NOTE_DAYS = 14;

/** All that a person's own page shows: their own numbers whole, everybody else's masked. */
async function ownPage(context: SignedIn): Promise<OwnPage> {
  const { services } = context;
  const { live, person } = await me(context);
  const { estate, index } = live;
  const now = services.now();
  const { limits } = await readLimits(services.db, person.id);
  const [line] = person.lines;
  const own = new Set(person.endpoints.flatMap(({ number }) => number ?? []));
  const isShown = (number: string) => own.has(number) || index.destinations.has(number);
  const nameOf = (id: string) => live.finder.person(id)?.name ?? id;
  const until = line?.forwardUntil;
  const cover =
    line?.forwardAll && (until === undefined || Date.parse(until) > now.getTime())
      ? {
          to: line.forwardAll.kind === 'person' ? nameOf(line.forwardAll.person) : line.forwardAll.kind,
          until: until ?? null,
        }
      : null;
  const { trace: _trace, ...tried } = line
    ? tryCall(
        index,
        {
          from: ANY_OUTSIDE_CALLER,
          to: line.extension,
          at: isoIn(now.getTime(), estate.timeZone),
          world: { endpoints: await desksAway(services, live, person.id) },
        },
        person.id,
      )
    : { trace: null, strip: null };
  const requests = await readRequests(services.db, person.id, false);
  return maskDeep(
    {
      person: {
        id: person.id,
        name: person.name,
        status: person.status,
        extension: line?.extension ?? null,
        numbers: line?.numbers ?? [],
        endpoints: person.endpoints,
        plan: person.plan,
      },
      organisation: estate.name,
      timeZone: estate.timeZone,
      statuses: estate.statuses,
      schedules: estate.schedules.map(({ id, name }) => ({ id, name })),
      colleagues: estate.people.filter(({ id }) => id !== person.id).map(({ id, name }) => ({ id, name })),
      limits,
      cover,
      note: await readNote(services.db, person.id, now),
      checks: await readChecks(services.db, person.id),
      pinSetAt: (await readPinDates(services.db)).get(person.id) ?? null,
      messages: {
        ...services.phones.waiting(person.id),
        code: live.estate.dialling.codes?.find(({ acts }) => acts === 'messages')?.code ?? null,
      },
      callsFrom:
        statusesOf(live, person, now).find(({ status }) => status === person.status)?.callsFrom ?? null,
      reach: judgeReach(index, person, now.getTime()),
      strip: tried.strip,
      requests: requests.map((each) => ({ ...each, says: sayWish(estate, person, each.wish) })),
    },
    isShown,
  );
}

/** The phones of those on the way who are signed on at no shared desk: they are not registered. */
async function desksAway(
  services: Services,
  live: LiveEstate,
  person: string,
): Promise<ReturnType<typeof awayBehaviours>> {
  const { people } = sliceFor(live.estate, live.finder, person);
  const at = await atDesks(services.db, live, services.now().getTime());
  // One whose phone is starting again for them is not there yet.
  return awayBehaviours(people, ({ id }) => at.get(id)?.startsUntilMs === null);
}

async function judged(context: SignedIn, wish: Wish): Promise<{ person: Person; verdict: Judged }> {
  const { live, person } = await me(context);
  const { limits } = await readLimits(context.services.db, person.id);
  return { person, verdict: judgeWish(live.estate, person, wish, limits, context.services.now().getTime()) };
}

const wishBody = parts.closed({ wish: wishSchema, note: parts.text(500) });
const noteBody = parts.closed({
  note: parts.text(200).defined('is missing'),
  at: parts.text(120).nullable(),
  until: parts.instant().nullable(),
});
const checkBody = parts.closed({
  endpoint: parts.requiredId(),
  item: parts.oneOf(APP_CHECKS).required('is missing'),
  done: parts.flag().required('is missing'),
});

/** What people do on their own page. */
export const staffRoutes: readonly Route[] = [
  {
    method: 'GET',
    path: '/api/me',
    roles: ONLY_STAFF,
    unmasked: true,
    handle: async (context) => ({ body: await ownPage(context) }),
  },
  {
    /** Does what a person wants, if they may do it themselves; else says that it can be asked for. */
    method: 'POST',
    path: '/api/me/wishes',
    roles: ONLY_STAFF,
    unmasked: true,
    handle: async (context) => {
      const { wish } = checkedBody<{ wish: Wish }>(context.body, wishBody);
      const { person, verdict } = await judged(context, wish);
      if (verdict.may === 'not') throw notRight(verdict.faults);
      if (verdict.may === 'ask') throw refusal(409, verdict.why, { extra: { mayAsk: true } });
      const { live } = await me(context);
      await changePerson(context.services, context.account.name, person.id, {
        kind: 'own-change',
        detail: sayWish(live.estate, person, wish),
        // Judged anew on what is stored: two taps in a row are both done.
        change: (stored) => {
          const again = judgeWish(live.estate, stored, wish, ALLOWED, context.services.now().getTime());
          return again.may === 'not' ? stored : again.after;
        },
      });
      return { body: await ownPage(context) };
    },
  },
  {
    method: 'PUT',
    path: '/api/me/note',
    roles: ONLY_STAFF,
    unmasked: true,
    handle: async (context) => {
      const given = checkedBody<{ note: string; at?: string | null; until?: string | null }>(
        context.body,
        noteBody,
      );
      const { person } = await me(context);
      const { db, now } = context.services;
      const at = given.at ?? null;
      const wrong = (path: string, message: string) => notRight([{ path, message }]);
      if (at !== null && !person.endpoints.some(({ id }) => id === at))
        throw wrong('at', 'is no phone of yours');
      const until = given.until ? new Date(given.until) : null;
      if (until && until <= now()) throw wrong('until', 'must be a time to come');
      // A note that nobody takes away would still be read weeks later.
      const staleAt = until ?? DateTime.fromJSDate(now()).plus({ days: NOTE_DAYS }).toJSDate();
      await putNote(db, person.id, given.note.trim(), at, now(), staleAt);
      return { body: await ownPage(context) };
    },
  },
  {
    method: 'PUT',
    path: '/api/me/checks',
    roles: ONLY_STAFF,
    unmasked: true,
    handle: async (context) => {
      const { endpoint, item, done } = checkedBody<{ endpoint: string; item: string; done: boolean }>(
        context.body,
        checkBody,
      );
      const { person } = await me(context);
      const { db, now } = context.services;
      if (person.endpoints.find(({ id }) => id === endpoint)?.kind !== 'mobile-app')
        throw notRight([{ path: 'endpoint', message: 'is no app of yours on a mobile' }]);
      await putCheck(db, person.id, endpoint, item, done, now());
      return { body: await ownPage(context) };
    },
  },
  {
    /** People choose their PIN by themselves; it is kept as a hash only. */
    method: 'POST',
    path: '/api/me/pin',
    roles: ONLY_STAFF,
    handle: async (context) => {
      const { pin } = checkedBody<{ pin: string }>(
        context.body,
        parts.closed({ pin: parts.requiredText(20) }),
      );
      const { person } = await me(context);
      await setPin(context, person, pin);
      return { body: await ownPage(context) };
    },
  },
  {
    /** What is typed into one's own app: shown on demand, and recorded. */
    method: 'POST',
    path: '/api/me/handover/:endpoint',
    roles: ONLY_STAFF,
    unmasked: true,
    handle: async (context) => {
      const { services, account, params } = context;
      const { live, person } = await me(context);
      const endpoint = person.endpoints.find(({ id }) => id === params.endpoint);
      if (endpoint?.kind !== 'mobile-app' && endpoint?.kind !== 'desktop-app')
        throw refusal(404, 'This is no softphone of yours.');
      const sip = await readAccount(services.db, services.secrets, endpoint.id);
      const place = services.phones.place();
      if (!sip || !place) throw refusal(503, 'The phone system is not there yet. Try again in a moment.');
      await addRecord(services.db, {
        who: account.name,
        kind: 'password-shown',
        personId: person.id,
        subject: `${person.name}: ${endpoint.label}`,
        detail: 'on their own page',
      });
      return {
        body: {
          user: sip.user,
          password: sip.password,
          realm: place.realm,
          server: place.address,
          ports: { udp: place.udp, tcp: place.tcp, tls: place.tls },
          servers: live.estate.settings?.servers ?? {},
          notes: await readSoundNotes(services.db, endpoint.id),
          placing: sayPlacing(person, statusesOf(live, person, services.now()), endpoint.id),
        },
      };
    },
  },
  {
    method: 'POST',
    path: '/api/me/requests',
    roles: ONLY_STAFF,
    unmasked: true,
    handle: async (context) => {
      const { wish, note } = checkedBody<{ wish: Wish; note?: string }>(context.body, wishBody);
      const { person, verdict } = await judged(context, wish);
      if (verdict.may === 'not') throw notRight(verdict.faults);
      const { live } = await me(context);
      const { db, now } = context.services;
      await inTransaction(db, async (connection) => {
        if (!(await mayAskMore(connection, person.id)))
          throw refusal(409, `You have ${MOST_OPEN} requests open. Wait until some are answered.`);
        await addRequest(connection, person.id, wish, note ?? '', now());
        await addRecord(connection, {
          who: context.account.name,
          kind: 'own-asked',
          personId: person.id,
          subject: person.name,
          detail: sayWish(live.estate, person, wish),
        });
      });
      return { status: 201, body: await ownPage(context) };
    },
  },
  {
    method: 'DELETE',
    path: '/api/me/requests/:id',
    roles: ONLY_STAFF,
    unmasked: true,
    handle: async (context) => {
      const { person } = await me(context);
      const { db, now } = context.services;
      await inTransaction(db, async (connection) => {
        const request = await lockRequest(connection, Number(context.params.id));
        if (request?.person !== person.id || request.state !== 'open')
          throw refusal(404, 'This request is not open any more.');
        await answerRequest(connection, request.id, 'taken-back', context.account.name, '', now());
      });
      return { body: await ownPage(context) };
    },
  },
  {
    /** Places a call to the person's own line over the stand-ins, their own mobile being answered. */
    method: 'POST',
    path: '/api/me/try',
    roles: ONLY_STAFF,
    handle: async (context) => {
      const { live, person } = await me(context);
      const { phones, now, db } = context.services;
      const [line] = person.lines;
      const mobile = person.endpoints.find(({ kind }) => kind === 'mobile' || kind === 'mobile-app');
      if (!line || !mobile) throw refusal(409, 'You have no line, or no mobile, that could be tried.');
      const started = await phones.startTry(context.account.name, {
        call: {
          from: ANY_OUTSIDE_CALLER,
          to: line.extension,
          at: isoIn(now().getTime(), live.estate.timeZone),
          world: { endpoints: { [mobile.id]: { answerAfterMs: 4000 } } },
        },
        speed: 10,
        asIf: null,
      });
      if (!started) throw refusal(503, 'The stand-ins are not running. Try again in a moment.');
      await addRecord(db, {
        who: context.account.name,
        kind: 'tried-live',
        personId: person.id,
        subject: person.name,
        detail: 'their own mobile',
      });
      return { status: 201, body: { id: started.id, mobile: mobile.label } };
    },
  },
];

/** What was judged once is done as it was judged. */
const ALLOWED: OwnLimits = {
  status: true,
  twinning: true,
  numbers: ['local', 'national', 'mobile', 'toll-free', 'international'],
  ringMs: { least: 0, most: Number.MAX_SAFE_INTEGER },
  sequence: true,
  hours: true,
  coverMs: Number.MAX_SAFE_INTEGER,
};
