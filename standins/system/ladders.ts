import type { Timer } from '../sip/clock';
import type { Carried } from '../sip/node';
import type { CallLadder } from './types';

/** So many messages of a call are kept, and so many bytes of them. */
const MOST_MESSAGES = 120;
const MOST_BYTES = 96 * 1024;
/** Messages of calls that have not begun yet: an INVITE is carried before it is known that a call comes of it. */
const MOST_BEFORE = 64;
/** What ends a call goes over the wire after its record is kept. */
const WAITS_MS = 1500;

interface Open {
  readonly messages: Carried[];
  /** By the clock of the phone system, ms. */
  readonly beganMs: number;
  readonly callIds: Set<string>;
  bytes: number;
  /** When its record says that it began; null: none is kept yet. */
  startMs: number | null;
}

/** Keeps the messages of each call, over all its legs, until its record is kept; then they are told, once. */
export interface Ladders {
  readonly carried: (message: Carried) => void;
  /** @param callId that of the leg that came in; left out: none did */
  readonly began: (id: string, callId?: string) => void;
  /** A leg of a call: its messages are those of the call. */
  readonly leg: (id: string, callId: string) => void;
  /** Its record is kept. */
  readonly kept: (id: string, startMs: number) => void;
  /** Nothing of the call is left but its last messages. */
  readonly gone: (id: string) => void;
  /** Tells of all that is open. */
  readonly close: () => void;
}

/** @param now the clock of the phone system, ms */
export function openLadders(now: () => number, tell: (ladder: CallLadder) => void): Ladders {
  const open = new Map<string, Open>();
  const callOf = new Map<string, string>();
  const ending = new Map<string, Timer>();
  let closed = false;
  let before: { readonly callId: string; readonly message: Carried }[] = [];

  const add = (call: Open, message: Carried) => {
    if (call.messages.length >= MOST_MESSAGES || call.bytes >= MOST_BYTES) return;
    call.bytes += message.bytes.length;
    const atMs = Math.round(message.atMs - call.beganMs);
    call.messages.push({ ...message, atMs, bytes: withoutProof(message.bytes) });
  };
  const end = (id: string) => {
    clearTimeout(ending.get(id));
    ending.delete(id);
    const call = open.get(id);
    open.delete(id);
    for (const callId of call?.callIds ?? []) callOf.delete(callId);
    if (call && call.startMs !== null && call.messages.length > 0)
      tell({ id, startMs: call.startMs, messages: call.messages });
  };
  const leg = (id: string, callId: string) => {
    const call = open.get(id);
    if (!call) return;
    call.callIds.add(callId);
    callOf.set(callId, id);
  };
  return {
    carried: (message) => {
      const callId = callIdIn(message.bytes);
      if (callId === null) return;
      const call = open.get(callOf.get(callId) ?? '');
      if (call) return add(call, message);
      if (!OF_AN_INVITE.test(message.bytes)) return;
      before.push({ callId, message });
      if (before.length > 2 * MOST_BEFORE) before = before.slice(-MOST_BEFORE);
    },
    began: (id, callId) => {
      // One that ended just now may be called by the same name: what it left is told first.
      end(id);
      const call: Open = {
        messages: [],
        beganMs: now(),
        callIds: new Set(),
        bytes: 0,
        startMs: null,
      };
      open.set(id, call);
      if (callId === undefined) return;
      leg(id, callId);
      for (const each of before) if (each.callId === callId) add(call, each.message);
      before = before.filter((each) => each.callId !== callId);
    },
    leg,
    kept: (id, startMs) => {
      const call = open.get(id);
      if (call) call.startMs = startMs;
    },
    gone: (id) => {
      if (!open.has(id) || ending.has(id)) return;
      if (closed) end(id);
      else
        ending.set(
          id,
          setTimeout(() => end(id), WAITS_MS),
        );
    },
    close: () => {
      closed = true;
      for (const id of [...open.keys()]) end(id);
    },
  };
}

const CALL_ID = /^(?:Call-ID|i)[ \t]*:[ \t]*(\S{1,200})/im;
const OF_AN_INVITE = /^CSeq[ \t]*:[ \t]*\d+[ \t]+(?:INVITE|ACK)\b/im;
const callIdIn = (bytes: string): string | null => CALL_ID.exec(bytes)?.[1] ?? null;

/** A message without what proves that its sender knows the password (RFC 3261, section 22.4): it is nobody's to keep. */
const withoutProof = (bytes: string): string =>
  bytes.replace(
    /^((?:Proxy-)?Authorization[ \t]*:(?:[^\r\n]|\r?\n[ \t])*?\bresponse[ \t]*=[ \t]*)(?:"[^"]*"|[^\s,]*)/gim,
    '$1"not kept"',
  );
