import {
  answerHeaders,
  buildSip,
  header,
  headersOf,
  parseNameAddr,
  writeUri,
  type Headers,
  type SipRequest,
} from '../../core/wire/sip';
import { countedBySource } from '../sip/counted';
import type { Authenticator } from '../sip/authenticator';
import type { Peer } from '../sip/transport';

/** One device that is registered. Times in ms since 1970. */
export interface Binding {
  readonly user: string;
  /** The contact's URI as the device gave it. */
  readonly contact: string;
  readonly from: Peer;
  readonly sinceMs: number;
  readonly refreshedMs: number;
  readonly expiresMs: number;
  readonly userAgent: string;
  /** By which it can be woken (RFC 8599); null: it cannot. */
  readonly pushId: string | null;
  readonly callId: string;
  readonly seq: number;
  roundTripMs: number | null;
}

export type RegistrarEvent =
  | { readonly kind: 'registered' | 'refreshed' | 'moved'; readonly binding: Binding }
  | { readonly kind: 'removed' | 'expired'; readonly binding: Binding }
  | { readonly kind: 'refused'; readonly user: string; readonly from: Peer; readonly why: string };

export interface Registrar {
  /** Answers a REGISTER. @returns the answer's bytes, or null to stay silent */
  readonly answer: (request: SipRequest, from: Peer, tag: string) => string | null;
  readonly bindings: (user: string) => readonly Binding[];
  readonly all: () => readonly Binding[];
  /** Takes out what has run out. */
  readonly sweep: () => void;
  readonly remove: (user: string) => void;
}

/** Expiry in seconds: what is given where nothing is asked for, and the least and most that is granted. */
export const EXPIRY = { usual: 300, least: 10, most: 3600 } as const;
const MOST_CONTACTS = 8;
/** Characters of a User-Agent that are kept. */
const MOST_AGENT = 120;
/** Refusals told for one source within a while; beyond it they are counted only, and get no answer. */
const MOST_REFUSALS = 200;
const REFUSAL_WINDOW_MS = 10_000;

interface Kept extends Binding {
  /** The answer to the REGISTER last taken, for when it comes again. */
  answered: string;
}

/**
 * The registrar of RFC 3261, section 10.3: several contacts for an account, each with its own expiry, and the
 * source of each message kept with it, so that calls go back the way the registration came.
 */
export function openRegistrar(
  authenticator: Authenticator,
  onEvent: (event: RegistrarEvent) => void,
  now: () => number = Date.now,
): Registrar {
  const accounts = new Map<string, Map<string, Kept>>();
  const countRefusal = countedBySource(REFUSAL_WINDOW_MS, now);

  const refuse = (request: SipRequest, tag: string, status: number, more: Headers = []) =>
    buildSip({ status, headers: answerHeaders(request, tag, more) });

  function bindings(user: string): readonly Kept[] {
    const at = now();
    return [...(accounts.get(user)?.values() ?? [])].filter(({ expiresMs }) => expiresMs > at);
  }

  function drop(binding: Kept, kind: 'removed' | 'expired'): void {
    const contacts = accounts.get(binding.user);
    if (!contacts?.delete(binding.contact)) return;
    if (contacts.size === 0) accounts.delete(binding.user);
    onEvent({ kind, binding });
  }

  function listed(contacts: ReadonlyMap<string, Kept>, at: number): Headers {
    const fields: (readonly [string, string])[] = [];
    for (const { contact, expiresMs } of contacts.values())
      if (expiresMs > at)
        fields.push(['Contact', `<${contact}>;expires=${Math.round((expiresMs - at) / 1000)}`]);
    return fields;
  }

  /** What a REGISTER asks for; a status where it cannot be had. */
  function wishes(request: SipRequest): readonly Wish[] | 'all' | number {
    const contacts = headersOf(request, 'Contact');
    const general = header(request, 'Expires');
    const usual = general === undefined ? EXPIRY.usual : seconds(general);
    if (contacts.some((each) => each.trim() === '*'))
      return contacts.length === 1 && usual === 0 ? 'all' : 400;
    if (contacts.length > MOST_CONTACTS) return 400;
    const found: Wish[] = [];
    for (const value of contacts) {
      const contact = parseNameAddr(value);
      if (!contact || contact.uri.scheme === 'tel') return 400;
      const asked = contact.params.expires === undefined ? usual : seconds(contact.params.expires);
      if (asked > 0 && asked < EXPIRY.least) return 423;
      found.push({
        contact: writeUri(contact.uri),
        expiresS: Math.min(asked, EXPIRY.most),
        pushId:
          contact.uri.params['pn-provider'] === undefined ? null : (contact.uri.params['pn-prid'] ?? null),
      });
    }
    return found;
  }

  return {
    bindings,
    all: () => [...accounts.keys()].flatMap(bindings),
    remove: (user) => {
      for (const each of accounts.get(user)?.values() ?? []) drop(each, 'removed');
    },
    sweep: () => {
      const at = now();
      for (const contacts of [...accounts.values()])
        for (const each of [...contacts.values()]) if (each.expiresMs <= at) drop(each, 'expired');
    },
    answer: (request, from, tag) => {
      const user = request.to.uri.user;
      const kept = accounts.get(user);
      // The same REGISTER once more gets the same answer, without being counted as a replay.
      for (const each of kept?.values() ?? [])
        if (each.callId === request.callId && each.seq === request.cseq.seq && isAnsweredBy(request, each))
          return each.answered;
      const verdict = authenticator.judge(request);
      if (!verdict.ok) {
        if (verdict.challenge) return refuse(request, tag, 401, verdict.challenge);
        const count = countRefusal(from.host);
        if (count > MOST_REFUSALS) return null;
        onEvent({ kind: 'refused', user, from, why: WHY[verdict.why] });
        return refuse(request, tag, 403);
      }
      if (verdict.user !== user) {
        onEvent({ kind: 'refused', user, from, why: `${verdict.user} may not register as somebody else` });
        return refuse(request, tag, 403);
      }
      const wanted = wishes(request);
      if (typeof wanted === 'number')
        return refuse(request, tag, wanted, wanted === 423 ? [['Min-Expires', String(EXPIRY.least)]] : []);
      const contacts = kept ?? new Map<string, Kept>();
      for (const each of contacts.values())
        if (each.callId === request.callId && request.cseq.seq <= each.seq) return refuse(request, tag, 500);
      const at = now();
      const changed: Changed[] = [];
      if (wanted === 'all') for (const each of [...contacts.values()]) drop(each, 'removed');
      else {
        const added = wanted.reduce(
          (sum, { contact, expiresS }) => (expiresS > 0 && !contacts.has(contact) ? sum + 1 : sum),
          0,
        );
        if (contacts.size + added > MOST_CONTACTS) return refuse(request, tag, 403);
        for (const wish of wanted) {
          const before = contacts.get(wish.contact);
          if (wish.expiresS > 0) {
            const binding = bindingOf(request, from, wish, before, at);
            changed.push({ binding, before });
            contacts.set(binding.contact, binding);
          } else if (before) drop(before, 'removed');
        }
      }
      if (changed.length > 0) accounts.set(user, contacts);
      const answered = buildSip({
        status: 200,
        headers: answerHeaders(request, tag, listed(contacts, at)),
      });
      for (const { binding, before } of changed) {
        binding.answered = answered;
        const kind = !before ? 'registered' : before.from === binding.from ? 'refreshed' : 'moved';
        onEvent({ kind, binding });
      }
      return answered;
    },
  };
}

/** The Via tells a repetition from another request (section 17.2.3), and the answer kept for it has it. */
const isAnsweredBy = (request: SipRequest, { answered }: Kept): boolean =>
  answered.includes(`\r\nVia: ${header(request, 'Via')}\r\n`);

/** The binding that a wish makes; what is as before is taken over, so that not each message is kept for its parts. */
function bindingOf(request: SipRequest, from: Peer, wish: Wish, before: Kept | undefined, at: number): Kept {
  const userAgent = header(request, 'User-Agent') ?? '';
  return {
    user: before?.user ?? request.to.uri.user,
    contact: before?.contact ?? wish.contact,
    from: before?.from.host === from.host && before.from.port === from.port ? before.from : from,
    sinceMs: before?.sinceMs ?? at,
    refreshedMs: at,
    expiresMs: at + wish.expiresS * 1000,
    userAgent: before?.userAgent === userAgent ? before.userAgent : userAgent.slice(0, MOST_AGENT),
    pushId: wish.pushId,
    callId: before?.callId === request.callId ? before.callId : request.callId,
    seq: request.cseq.seq,
    roundTripMs: before?.roundTripMs ?? null,
    answered: '',
  };
}

interface Changed {
  readonly binding: Kept;
  readonly before: Kept | undefined;
}

interface Wish {
  readonly contact: string;
  readonly expiresS: number;
  readonly pushId: string | null;
}

const WHY = {
  wrong: 'the password is wrong',
  unknown: 'there is no such account',
  replayed: 'the credentials were used before',
} as const;

/** A malformed expiry counts as the usual one (RFC 3261, section 10.2.1.1). */
const seconds = (text: string): number => (/^\d{1,10}$/.test(text.trim()) ? Number(text) : EXPIRY.usual);
