import { randomUUID } from 'node:crypto';
import { DateTime } from 'luxon';
import type { RowDataPacket } from 'mysql2/promise';
import type { CallingPage } from '../../api/calls';
import { dialReader, emergencyNumbers, extensionsOf, mayDial } from '../../core/calls/dialling';
import { waysToCall } from '../../core/calls/out';
import { parts, type E164, type Person } from '../../core/estate';
import type { Tariff } from '../../core/records';
import { zoneNamed } from '../../core/zones';
import { isRefusal, notRight, refusal, STAFF } from '../base';
import { inTransaction } from '../db';
import { checkedBody, me, type Route, type SignedIn } from '../http';
import { addRecord } from '../record';
import { tariffOf } from './tariffs';

/** Open at a time, and in a day, of one person. */
const MOST_OPEN = 3;
const MOST_A_DAY = 60;

const backBody = parts.closed({
  number: parts.requiredText(40),
  phone: parts.requiredId(),
  withhold: parts.flag(),
});

/** The number that was typed, as the dial plan reads it. @throws a refusal beside the field */
async function numberIn(context: SignedIn, text: string): Promise<E164> {
  const { live } = await me(context);
  const { dialling } = live.estate;
  const read = dialReader(dialling, new Set(extensionsOf(live.estate))).interpret(text);
  const wrong = (message: string) => notRight([{ path: 'number', message }]);
  if (emergencyNumbers(dialling.country).includes(text.replace(/\D/g, '')))
    throw wrong('is an emergency number: dial it at a phone, so that the place goes along');
  if (read.kind === 'extension') throw wrong('is an extension: dial it at your phone');
  if (read.kind !== 'number' || read.e164 === undefined) throw wrong('is no number that can be called');
  return read.e164;
}

const priced = async ({ services }: SignedIn): Promise<Tariff | null> =>
  tariffOf(services.db, null).then(
    ({ tariff }) => tariff,
    (error: unknown) => {
      if (isRefusal(error) && error.status === 404) return null;
      throw error;
    },
  );

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
  const tariff = await priced(context);
  const day =
    DateTime.fromJSDate(services.now(), { zone: zoneNamed(live.estate.timeZone) }).toISODate() ?? '';
  return {
    number,
    ways: waysToCall(live.index, person, number, {
      isRegistered: (endpoint) => (isUp ? registered.has(endpoint) : null),
      tariff,
      day,
    }),
    currency: tariff?.currency ?? null,
    open,
  };
}

/** Calls somebody back at a phone of their own, and nobody else’s; both legs are judged before the first rings. */
async function callBack(context: SignedIn) {
  const { services } = context;
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
  const open = services.phones.callsBack(person.id).filter(({ overMs }) => overMs === null).length;
  const asking = beingAsked.get(person.id) ?? 0;
  if (open + asking >= MOST_OPEN)
    throw refusal(429, `${MOST_OPEN} calls back are under way already. Wait until one has ended.`);
  // From here to the placing it counts as one that is under way.
  beingAsked.set(person.id, asking + 1);
  try {
    return await placeBack(
      context,
      person,
      { id: phone.id, number: phone.number },
      number,
      asked.withhold ?? false,
    );
  } finally {
    const left = (beingAsked.get(person.id) ?? 1) - 1;
    if (left > 0) beingAsked.set(person.id, left);
    else beingAsked.delete(person.id);
  }
}
const beingAsked = new Map<string, number>();

async function placeBack(
  { services, account }: SignedIn,
  person: Person,
  phone: { readonly id: string; readonly number: E164 },
  number: E164,
  isWithheld: boolean,
) {
  const { estate } = await services.store.current();
  const zone = zoneNamed(estate.timeZone);
  const today = DateTime.fromJSDate(services.now(), { zone }).startOf('day').toJSDate();
  await inTransaction(services.db, async (tx) => {
    const [[row]] = await tx.query<RowDataPacket[]>(
      "SELECT COUNT(*) AS n FROM record_entry WHERE person_id = ? AND kind = 'called-back' AND at >= ?",
      [person.id, today],
    );
    if (Number(row?.n) >= MOST_A_DAY)
      throw refusal(
        429,
        `You have been called back ${MOST_A_DAY} times today. Ask your mobility specialist.`,
      );
    await addRecord(tx, {
      who: account.name,
      kind: 'called-back',
      personId: person.id,
      subject: person.name,
      detail: isWithheld ? `${number}, number withheld` : number,
    });
  });
  const id = randomUUID();
  const placed = services.phones.callBack({
    id,
    person: person.id,
    extension: person.lines[0]?.extension ?? '',
    endpoint: phone.id,
    mobile: phone.number,
    number,
    callerId: person.lines.flatMap(({ numbers }) => numbers)[0] ?? null,
    isWithheld,
  });
  if (!placed) throw refusal(503, 'The phone system is not up. Try again in a moment.');
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
];
