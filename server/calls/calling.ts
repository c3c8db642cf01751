import { randomUUID } from 'node:crypto';
import type { CallingPage } from '../../api/calls';
import { mayDial } from '../../core/calls/dialling';
import { numberOutside, numberShown, USED_UP, waysToCall } from '../../core/calls/out';
import { parts, type E164 } from '../../core/estate';
import { notRight, refusal, STAFF } from '../base';
import { checkedBody, me, type Route, type SignedIn } from '../http';
import { predictedAccess, tryAccess } from './access';
import { placeBack } from './back';
import { dayOf, giveBackGrant, grantCall, tariffNow, usedToday } from './limits';

const backBody = parts.closed({
  number: parts.requiredText(40),
  phone: parts.requiredId(),
  withhold: parts.flag(),
});

/** The number that was typed, as the dial plan reads it. @throws a refusal beside the field */
async function numberIn(context: SignedIn, text: string): Promise<E164> {
  const { live } = await me(context);
  const read = numberOutside(live.estate, text);
  if ('why' in read) throw notRight([{ path: 'number', message: NOT_CALLED[read.why] }]);
  return read.number;
}
const NOT_CALLED = {
  emergency: 'is an emergency number: dial it at a phone, so that the place goes along',
  extension: 'is an extension: dial it at your phone',
  'bad-number': 'is no number that can be called',
} as const;

async function calling(context: SignedIn): Promise<CallingPage> {
  const { services, query } = context;
  const { live, person } = await me(context);
  const open = services.phones.callsBack(person.id).map(({ order, at }) => ({
    id: order.id,
    number: order.number,
    step: at.step,
    why: at.why,
  }));
  if (!query.number) return { number: null, ways: [], currency: null, open };
  const number = await numberIn(context, query.number.slice(0, 40));
  const registered = new Set(services.phones.registrations().flatMap(({ endpoint }) => endpoint ?? []));
  const isUp = services.phones.place() !== null;
  const tariff = await tariffNow(services);
  const day = dayOf(live, services.now()).toISODate() ?? '';
  return {
    number,
    ways: waysToCall(live.index, person, number, {
      isRegistered: (endpoint) => (isUp ? registered.has(endpoint) : null),
      tariff,
      day,
      atMs: services.now().getTime(),
      used: await usedToday(services, live, person, tariff),
    }),
    currency: tariff?.currency ?? null,
    open,
  };
}

/** Calls somebody back at a phone of their own, and nobody else’s; both legs are judged before the first rings. */
async function callBack(context: SignedIn) {
  const { services, account } = context;
  const asked = checkedBody<{ number: string; phone: string; withhold?: boolean }>(context.body, backBody);
  const { live, person } = await me(context);
  const { estate } = live;
  const number = await numberIn(context, asked.number);
  const phone = person.endpoints.find(({ id }) => id === asked.phone);
  if (phone?.number === undefined)
    throw notRight([{ path: 'phone', message: 'is no mobile or landline of yours' }]);
  for (const [path, each] of [
    ['number', number],
    ['phone', phone.number],
  ] as const) {
    const may = mayDial(person, each, estate);
    if (!may.ok) throw notRight([{ path, message: 'is not allowed by your permission' }]);
  }
  const id = randomUUID();
  const shown = numberShown(estate, person);
  const granted = await grantCall(services, live, person, {
    id,
    number,
    trunk: mayDial(person, number, estate).trunk ?? null,
  });
  if (granted === 'refused') throw refusal(429, USED_UP);
  try {
    await placeBack(services, live, {
      id,
      who: account.name,
      person,
      phone: { id: phone.id, number: phone.number },
      number,
      shown: { ...shown, isWithheld: shown.isWithheld || (asked.withhold ?? false) },
      mostMs: granted.mostMs,
    });
  } catch (error) {
    await giveBackGrant(services.db, id);
    throw error;
  }
  return { status: 202, body: { id } };
}

export const callingRoutes: readonly Route[] = [
  {
    /** The ways to call a number, the best first, and the calls back that go on: `?number=`. */
    method: 'GET',
    path: '/api/me/calling',
    roles: [STAFF],
    unmasked: true,
    handle: async (context) => ({ body: await calling(context) }),
  },
  { method: 'POST', path: '/api/me/call-back', roles: [STAFF], unmasked: true, handle: callBack },
  {
    /** Calls an access number from outside, as a try. */
    method: 'POST',
    path: '/api/access/:id/try',
    roles: ['specialist'],
    handle: tryAccess,
  },
  {
    method: 'POST',
    path: '/api/access/:id/prediction',
    roles: ['specialist'],
    handle: predictedAccess,
  },
];
