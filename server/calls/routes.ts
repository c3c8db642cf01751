import { maskDeep } from '../../core/privacy';
import type { Route } from '../http';
import { refusal, ROLES } from '../base';
import { addSlate, putEntries, readEntries, readSlate } from '../slates';
import { inTransaction } from '../db';
import type { SignedIn } from '../http';
import type { NightsPage, TimesAsked } from '../../api/records';
import { carrierEntries, carriersWork, costWork, slateCallsWork, timesWork, trafficWork } from './analysis';
import { lostPage } from './lost';
import { callsAround, explainOne } from './explain';
import { callCapture, callLadder } from './ladder';
import { callsGoing } from './going';
import { letterAsPdf, letterOf } from './letter';
import { nightRows } from './night';
import { addTariff, removeTariff, tariffOf, tariffRows } from './tariffs';

const momentIn = (text: string | undefined, otherwise: number): number => {
  const ms = text === undefined ? otherwise : Date.parse(text);
  if (!Number.isFinite(ms) || ms < 0 || ms > 8e15) throw refusal(400, 'This is no moment.');
  return ms;
};

const MOST_DAYS = 400;
const USUAL_DAYS = 28;
const daysIn = (text: string | undefined): number => {
  const days = text === undefined ? USUAL_DAYS : Number(text);
  if (!Number.isSafeInteger(days) || days < 1 || days > MOST_DAYS)
    throw refusal(400, `Days are a whole number from 1 to ${MOST_DAYS}.`);
  return days;
};
const hourIn = (text: string | undefined): number | undefined => {
  if (text === undefined) return undefined;
  const hour = Number(text);
  if (!Number.isSafeInteger(hour) || hour < 0 || hour > 24) throw refusal(400, 'Hours are from 0 to 24.');
  return hour;
};
const timesAsked = (query: SignedIn['query']): TimesAsked => {
  const [fromHour, toHour] = [hourIn(query.fromHour), hourIn(query.toHour)];
  return {
    days: daysIn(query.days),
    ...(query.person ? { person: query.person } : {}),
    ...(query.group ? { group: query.group } : {}),
    ...(query.phone ? { phone: query.phone } : {}),
    ...(fromHour === undefined ? {} : { fromHour }),
    ...(toHour === undefined ? {} : { toHour }),
  };
};
/** A slate with its entries. @throws a refusal where there is none */
async function slateIn({ services: { db } }: SignedIn, text: string | undefined) {
  const id = Number(text);
  const slate = Number.isSafeInteger(id) ? await readSlate(db, id) : null;
  if (!slate) throw refusal(404, 'There is no such slate.');
  return { id: slate.id, version: slate.version, entries: await readEntries(db, slate.id) };
}
/** A file of prices: some ten thousands of lines. */
const TARIFF_BYTES = 8 * 1024 * 1024;

/** As it is with the messages of a try. */
const LOOKS_AT_MESSAGES = ['specialist', 'help-desk'] as const;

export const callRoutes: readonly Route[] = [
  {
    /** One call as it went, beside how it should have gone. */
    method: 'GET',
    path: '/api/calls/one/:key',
    roles: ROLES,
    handle: async ({ services, params }) => ({ body: await explainOne(services, params.key ?? '') }),
  },
  /** The messages of a call over the phone system here, as a ladder and as a packet capture: `?masked=1`. */
  { method: 'GET', path: '/api/calls/one/:key/ladder', roles: LOOKS_AT_MESSAGES, handle: callLadder },
  { method: 'GET', path: '/api/calls/one/:key/capture', roles: LOOKS_AT_MESSAGES, handle: callCapture },
  {
    /** The calls to a person around a moment, each with what should have happened: `?at=`. */
    method: 'GET',
    path: '/api/people/:id/calls-around',
    roles: ROLES,
    handle: async ({ services, params, query }) => {
      const { finder } = await services.store.current();
      const person = finder.person(params.id ?? '');
      if (!person) throw refusal(404, 'There is no such person.');
      return { body: await callsAround(services, person, momentIn(query.at, services.now().getTime())) };
    },
  },
  {
    /** The calls that are going on now. */
    method: 'GET',
    path: '/api/calls/going',
    roles: ROLES,
    handle: async ({ services }) => ({ body: { calls: await callsGoing(services) } }),
  },
  {
    /** How soon phones are answered: `?days=`, `?person=`, `?group=`, `?phone=` a kind, `?fromHour=`, `?toHour=`. */
    method: 'GET',
    path: '/api/calls/times',
    roles: ROLES,
    handle: async ({ services, query }) => ({ body: await timesWork(services, timesAsked(query)) }),
  },
  {
    method: 'GET',
    path: '/api/calls/carriers',
    roles: ROLES,
    handle: async ({ services, query }) => ({ body: await carriersWork(services, daysIn(query.days)) }),
  },
  {
    /** A new slate that sets a carrier’s times as they were measured: `?prefix=`. */
    method: 'POST',
    path: '/api/calls/carriers/slate',
    roles: ['specialist'],
    handle: async ({ services, account, query }) => {
      const prefix = query.prefix ?? '';
      const entries = await carrierEntries(services, prefix, daysIn(query.days));
      if (entries.length === 0)
        throw refusal(409, 'The times of this carrier are as they were measured already.');
      const { db, now } = services;
      const slate = await inTransaction(db, async (tx) => {
        const id = await addSlate(tx, `Times of ${prefix} as they were measured`, account.name, now());
        await putEntries(tx, id, entries, account.name, now());
        return id;
      });
      return { status: 201, body: { slate } };
    },
  },
  {
    /** What trunks carried; `?slate=`: and what a slate would add. */
    method: 'GET',
    path: '/api/calls/traffic',
    roles: ROLES,
    handle: async (context) => {
      const { services, query } = context;
      const slate = query.slate === undefined ? null : await slateIn(context, query.slate);
      return { body: await trafficWork(services, daysIn(query.days), slate) };
    },
  },
  {
    method: 'GET',
    path: '/api/calls/lost',
    roles: ROLES,
    handle: async ({ services, query }) => ({ body: await lostPage(services, daysIn(query.days)) }),
  },
  {
    /** What calls cost by a tariff: `?tariff=` its id, else the latest. */
    method: 'GET',
    path: '/api/calls/cost',
    roles: ROLES,
    handle: async ({ services, query }) => {
      const tariff = await tariffOf(services.db, query.tariff ?? null);
      return { body: await costWork(services, daysIn(query.days), tariff) };
    },
  },
  {
    method: 'GET',
    path: '/api/tariffs',
    roles: ROLES,
    handle: async ({ services }) => ({ body: { tariffs: await tariffRows(services.db) } }),
  },
  {
    method: 'POST',
    path: '/api/tariffs',
    roles: ['specialist'],
    rawBody: true,
    limit: TARIFF_BYTES,
    handle: addTariff,
  },
  { method: 'DELETE', path: '/api/tariffs/:id', roles: ['specialist'], handle: removeTariff },
  {
    /** What a slate makes of the calls of the last days. */
    method: 'GET',
    path: '/api/slates/:slate/calls',
    roles: ROLES,
    handle: async (context) => ({
      body: await slateCallsWork(
        context.services,
        daysIn(context.query.days),
        await slateIn(context, context.params.slate),
      ),
    }),
  },
  {
    /** What each night’s look at the calls of its day found. */
    method: 'GET',
    path: '/api/calls/nights',
    roles: ROLES,
    handle: async ({ services }) => ({
      body: { nights: await nightRows(services.db) } satisfies NightsPage,
    }),
  },
  {
    /** The week’s letter: `?week=` one of its days, `?form=pdf` or `json` as a file. */
    method: 'GET',
    path: '/api/calls/letter',
    roles: ['specialist', 'manager'],
    handle: async ({ services, query, account }) => {
      const { index } = await services.store.current();
      const whole = await letterOf(services, query.week);
      // Files are not masked on their way out.
      const letter =
        account.role === 'specialist' ? whole : maskDeep(whole, (number) => index.destinations.has(number));
      const file = (type: string, form: string) => ({
        'Content-Type': type,
        'Content-Disposition': `attachment; filename="week-${letter.from}.${form}"`,
      });
      if (query.form === 'pdf')
        return { bytes: await letterAsPdf(letter), headers: file('application/pdf', 'pdf') };
      if (query.form === 'json')
        return { text: `${JSON.stringify(letter, null, 1)}\n`, headers: file('application/json', 'json') };
      return { body: letter };
    },
  },
];
