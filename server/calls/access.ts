import { randomUUID } from 'node:crypto';
import { isDeepStrictEqual } from 'node:util';
import type { AccessAsked, AccessPrediction, AccessTry } from '../../api/calls';
import {
  accessPerson,
  accessPin,
  accessTyped,
  beginAccess,
  knownCaller,
  numberShown,
  ownExtension,
  predictAccess,
  USED_UP,
  WANTED_WORDS,
  wanted,
  type AccessState,
  type AccessTurn,
} from '../../core/calls/out';
import { parts, type AccessNumber, type Person } from '../../core/estate';
import { codeAsks, codeTells } from '../../standins/messages';
import type { AccessCalled, CodeReply } from '../../standins/system';
import { mayTry, type Bound } from '../auth';
import { notRight, refusal } from '../base';
import type { LiveEstate } from '../estate';
import { checkedBody, type Services, type SignedIn } from '../http';
import { checkPin } from '../pins';
import { addRecord } from '../record';
import { placeBack } from './back';
import { grantCall, isUsedUp } from './limits';

type Needs = Pick<Services, 'db' | 'store' | 'now' | 'phones' | 'self'>;

/** Where each call to an access number stands; one that is not heard of again is forgotten. */
const standing = new Map<string, { readonly state: AccessState; readonly untilMs: number }>();
const MOST_STANDING = 1000;
const KEPT_MS = 120_000;
function stands(call: string, state: AccessState | null): void {
  const nowMs = Date.now();
  standing.delete(call);
  for (const [id, { untilMs }] of standing)
    if (untilMs < nowMs || standing.size >= MOST_STANDING) standing.delete(id);
  if (state) standing.set(call, { state, untilMs: nowMs + KEPT_MS });
}

/** PINs that are typed by one caller within a quarter of an hour, whosever they are. */
const callerBound = (from: string | null): Bound => ({
  subject: `access by ${from ?? 'a number withheld'}`,
  most: from === null ? 30 : 10,
});

const accessOf = (live: LiveEstate, id: string): AccessNumber | undefined =>
  live.estate.accessNumbers?.find((each) => each.id === id);

/** What is asked next of a call to an access number, or what is called for whoever typed it. */
export async function answerAccess(services: Needs, called: AccessCalled): Promise<CodeReply> {
  const live = await services.store.current();
  const access = accessOf(live, called.access);
  if (!access) return codeTells('This number does nothing here.');
  const before = standing.get(called.call)?.state;
  let turn: AccessTurn;
  if (called.typed === null)
    turn = beginAccess(live.index, access, { ...called, atMs: services.now().getTime() });
  else if (!before) return codeTells('This did not work. Try again later.');
  else turn = accessTyped(live.index, access, before, called.typed);
  if (turn.does === 'checks') turn = await pinTyped(services, live, called, turn);
  stands(called.call, turn.does === 'asks' ? turn.state : null);
  switch (turn.does) {
    case 'asks':
      return codeAsks(turn.says);
    case 'calls':
      return callFor(services, live, called.call, turn);
    case 'calls-in':
      return {
        says: '',
        asks: false,
        dialsIn: { from: ownExtension(turn.person), to: turn.extension },
      };
    case 'ends':
      return codeTells(turn.says);
    case 'checks':
      return codeTells('This did not work. Try again later.');
  }
}

async function pinTyped(
  services: Needs,
  live: LiveEstate,
  { access, from }: AccessCalled,
  { state, typed }: Extract<AccessTurn, { does: 'checks' }>,
): Promise<AccessTurn> {
  const person = accessPerson(live.estate, state);
  // Each try is counted before it is looked at, also those at extensions that are nobody's.
  if (!(await mayTry(services.db, [callerBound(from)]))) return accessPin(live.index, state, 'locked');
  const subject = person?.id ?? `extension ${state.extension ?? ''}`;
  const verdict = await checkPin(services, { person: subject, typed, at: `access number ${access}` });
  return accessPin(live.index, state, verdict === 'right' || verdict === 'locked' ? verdict : 'wrong');
}

async function callFor(
  services: Needs,
  live: LiveEstate,
  id: string,
  {
    person,
    number,
    trunk,
    shown,
  }: Pick<Extract<AccessTurn, { does: 'calls' }>, 'person' | 'number' | 'trunk' | 'shown'>,
): Promise<CodeReply> {
  const granted = await grantCall(services, live, person, { id, number, trunk });
  if (granted === 'refused') return codeTells(USED_UP);
  return {
    says: '',
    asks: false,
    dials: {
      person: person.id,
      extension: person.lines[0]?.extension ?? '',
      number,
      callerId: shown.number,
      isWithheld: shown.isWithheld,
      mostMs: granted.mostMs,
    },
  };
}

/** Calls the number that is typed after a code, with the caller's number withheld for this one call. */
export async function callWithheld(
  services: Needs,
  live: LiveEstate,
  {
    call,
    person,
    typed,
  }: { readonly call: string; readonly person: Person; readonly typed: string | undefined },
): Promise<CodeReply> {
  if (typed === undefined) return codeAsks('The number, then the hash key. Yours is not shown.');
  const { estate } = live;
  const asked = wanted(estate, person, typed);
  if (!asked.ok) return codeTells(WANTED_WORDS[asked.why]);
  const shown = { ...numberShown(estate, person), isWithheld: true };
  return callFor(services, live, call, { ...asked, person, shown });
}

/** Somebody who is known hung up before the answer: they are called back, and asked for the number there. */
export async function hungUpAtAccess(services: Needs, called: Omit<AccessCalled, 'typed'>): Promise<void> {
  const live = await services.store.current();
  const access = accessOf(live, called.access);
  const person = access && knownCaller(live.estate, access, called);
  const phone = person?.endpoints.find(({ number }) => number === called.from);
  if (!access || access.hangUp !== 'calls-back' || !person || phone?.number === undefined) return;
  const { number: callerId } = numberShown(live.estate, person, access.presents);
  await placeBack(services, live, {
    who: person.name,
    person,
    phone: { id: phone.id, number: phone.number },
    number: null,
    access: access.id,
    shown: { number: callerId, isWithheld: false },
    mostMs: null,
    id: randomUUID(),
  });
}

const tryBody = parts.closed<AccessAsked>({
  from: parts.text(40).nullable(),
  isVerified: parts.flag(),
  hangsUp: parts.flag(),
  typed: parts.list(parts.text(40).defined('is missing')).max(6, 'must be 6 or fewer'),
});

/** A call to an access number that is asked about, its form checked. @throws a refusal beside the field */
async function askedAccess({ services, body, params }: SignedIn) {
  const { from, isVerified = false, hangsUp = false, typed = [] } = checkedBody<AccessAsked>(body, tryBody);
  if (from !== null && !/^\+[1-9]\d{1,18}$/.test(from ?? ''))
    throw notRight([{ path: 'from', message: 'must be an E.164 number: + and digits, without spaces' }]);
  const wrong = typed.findIndex((each) => !/^[0-9*]{1,20}$/.test(each));
  if (wrong >= 0) throw notRight([{ path: `typed[${wrong}]`, message: 'must be digits, 20 or fewer' }]);
  const live = await services.store.current();
  const access = accessOf(live, params.id ?? '');
  if (!access) throw refusal(404, 'There is no such access number.');
  const asked = { from, isVerified, hangsUp, typed };
  return { access, asked, predicted: await predicted(services, live, access, asked) };
}

const NOT_CALLED_BACK = 'Hung up before the answer: nothing follows.';

async function predicted(
  services: Services,
  live: LiveEstate,
  access: AccessNumber,
  { from, isVerified, hangsUp, typed }: Required<AccessAsked>,
): Promise<AccessPrediction> {
  const isBack =
    access.hangUp === 'calls-back' && knownCaller(live.estate, access, { from, isVerified }) !== null;
  if (hangsUp && !isBack) return { says: [], calls: null, note: NOT_CALLED_BACK };
  // Whoever is called back was rung by us.
  const caller = { from, isVerified: isVerified || hangsUp, atMs: services.now().getTime() };
  const { says, calls, callsIn, tookPin, unheard } = predictAccess(live.index, access, caller, typed);
  const notes = [
    ...(hangsUp ? ['The phone is called back; press 1 there, and it is asked:'] : []),
    ...(tookPin ? ['The PIN is taken to be right.'] : []),
    ...(unheard > 0 ? ['What was typed last is not heard any more.'] : []),
  ];
  const person = calls && live.index.people.get(calls.person);
  if (calls && person && (await isUsedUp(services, live, person, calls)))
    return { says: [...says, USED_UP], calls: null, note: notes.join(' ') || null };
  return {
    says,
    calls: calls
      ? { number: calls.number, shows: calls.shown.isWithheld ? null : calls.shown.number }
      : callsIn && { number: callsIn.to, shows: callsIn.from },
    note: notes.join(' ') || null,
  };
}

/** What comes of a call to an access number. */
export const predictedAccess = async (context: SignedIn) => ({
  body: (await askedAccess(context)).predicted,
});

const SAID = /^(?:ask|told) /;

/** Calls an access number from outside over real SIP, as a try. */
export async function tryAccess(context: SignedIn) {
  const { services, account } = context;
  const { access, asked, predicted: expected } = await askedAccess(context);
  const tried = await services.phones.tryAccess({ number: access.number, ...asked });
  if (!tried) throw refusal(503, 'The phone system is not up. Try again in a moment.');
  await addRecord(services.db, {
    who: account.name,
    kind: 'access-tried',
    subject: access.name,
    detail: tried.called ? `called ${tried.called.number}` : 'called nobody',
  });
  const says = tried.heard.filter((each) => SAID.test(each)).map((each) => each.replace(SAID, ''));
  const calls = tried.called && { number: tried.called.number, shows: tried.called.saw };
  // What is said twice is heard once; at a phone that is called back nobody listens for us.
  const isHeard = asked.hangsUp || isDeepStrictEqual([...new Set(expected.says)], says);
  return {
    body: {
      says,
      calls,
      note: asked.hangsUp && calls ? 'The phone was called back.' : null,
      isAsPredicted: isHeard && isDeepStrictEqual(calls, expected.calls),
    } satisfies AccessTry,
  };
}
