import {
  answerHeaders,
  buildSip,
  header,
  headersOf,
  parseNameAddr,
  writeUri,
  type Headers,
  type SipRequest,
} from '../../core/sip';
import type { Guard } from '../sip/guard';
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
/** Refusals told for one source within a while; beyond it they are counted only, and get no answer. */
const MOST_REFUSALS = 200;
const REFUSAL_WINDOW_MS = 10_000;

interface Kept extends Binding {
  /** The answer to the REGISTER last taken, for when it comes again. */
  readonly answered: string;
  readonly branch: string;
}

/** How often each source was refused of late. */
function refusals(now: () => number) {
  let from = now();
  let counts = new Map<string, number>();
  return (host: string): number => {
    if (now() - from > REFUSAL_WINDOW_MS) {
      from = now();
      counts = new Map();
    }
    const count = (counts.get(host) ?? 0) + 1;
    if (counts.size < 10_000 || counts.has(host)) counts.set(host, count);
    return count;
  };
}

/**
 * The registrar of RFC 3261, section 10.3: several contacts for an account, each with its own expiry, and the
 * source of each message kept with it, so that calls go back the way the registration came.
 */
export function openRegistrar(
  guard: Guard,
  onEvent: (event: RegistrarEvent) => void,
  now: () => number = Date.now,
): Registrar {
  const accounts = new Map<string, Map<string, Kept>>();
  const countRefusal = refusals(now);

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

  const listed = (user: string): Headers => [
    ...bindings(user).map(
      ({ contact, expiresMs }) =>
        ['Contact', `<${contact}>;expires=${Math.max(0, Math.round((expiresMs - now()) / 1000))}`] as const,
    ),
  ];

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
      // The same REGISTER once more gets the same answer, without being counted as a replay.
      const kept = accounts.get(user);
      if (kept)
        for (const each of kept.values())
          if (
            each.callId === request.callId &&
            each.seq === request.cseq.seq &&
            each.branch === request.via.params.branch
          )
            return each.answered;
      const verdict = guard.judge(request);
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
      const contacts = accounts.get(user) ?? new Map<string, Kept>();
      for (const each of contacts.values())
        if (each.callId === request.callId && request.cseq.seq <= each.seq) return refuse(request, tag, 500);
      const at = now();
      const changed: { readonly wish: Wish; readonly before: Kept | undefined }[] = [];
      if (wanted === 'all') for (const each of [...contacts.values()]) drop(each, 'removed');
      else {
        const added = wanted.filter(({ contact, expiresS }) => expiresS > 0 && !contacts.has(contact));
        if (contacts.size + added.length > MOST_CONTACTS) return refuse(request, tag, 403);
        for (const wish of wanted) {
          const before = contacts.get(wish.contact);
          if (wish.expiresS > 0) changed.push({ wish, before });
          else if (before) drop(before, 'removed');
        }
      }
      if (changed.length > 0) accounts.set(user, contacts);
      for (const { wish, before } of changed)
        contacts.set(wish.contact, {
          user,
          contact: wish.contact,
          from,
          sinceMs: before?.sinceMs ?? at,
          refreshedMs: at,
          expiresMs: at + wish.expiresS * 1000,
          userAgent: (header(request, 'User-Agent') ?? '').slice(0, 120),
          pushId: wish.pushId,
          callId: request.callId,
          seq: request.cseq.seq,
          roundTripMs: before?.roundTripMs ?? null,
          answered: '',
          branch: request.via.params.branch ?? '',
        });
      const answered = buildSip({ status: 200, headers: answerHeaders(request, tag, listed(user)) });
      for (const { wish, before } of changed) {
        const binding: Kept = { ...contacts.get(wish.contact)!, answered };
        contacts.set(wish.contact, binding);
        const moved = before && (before.from.host !== from.host || before.from.port !== from.port);
        onEvent({ kind: moved ? 'moved' : before ? 'refreshed' : 'registered', binding });
      }
      return answered;
    },
  };
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
