import type { CallRecord } from '../../core/records';
import type { Ms } from '../../core/estate';
import { parseSdp } from '../../core/wire/sip';
import { openMedia, type MediaPort } from '../media/port';
import type { Asked } from '../sip/node';
import { sipCaller } from './caller-side';
import { placeIn, type PlacedIn } from './placed-in';
import { placeOut, type OutWatch, type PlacedOut } from './placed-out';
import { soundTowards } from './sound';
import { BY_HASH, typingAt, type TypingManner } from './typing';
import type { CallHost, CallOutAt, CodeReply, DialOut, LiveCall, ServerManner } from './types';

const later = (ms: Ms) => new Promise<void>((resolve) => setTimeout(resolve, ms));

/** A call that is answered by questions: to a code of the organisation, or to an access number. */
export interface CodeCall {
  readonly host: CallHost;
  readonly asked: Asked;
  /** @param typed what has been typed so far, one for each question */
  readonly act: (typed: readonly string[]) => Promise<CodeReply>;
  readonly manner?: TypingManner;
  /** What its record says where it leads to no call out; left out: none is kept then. */
  readonly records?: { readonly from: string | null; readonly to: string };
  /** Rings for so long before it is answered. */
  readonly ringMs?: Ms;
  /** How the phone that calls is treated; left out: as one at the machine. */
  readonly towards?: ServerManner | null;
  /** Told where it is given up while it rings. */
  readonly onHungUp?: () => void;
  readonly onGone: () => void;
}

const MOST_QUESTIONS = 6;
/** Messages that are played in one call. */
const MOST_PLAYED = 40;
const SAID_PACKETS = 5;
/** How long what was done is heard before the call ends. */
const TOLD_MS = 300;

/**
 * Takes a call that is answered by questions: asks for what is missing, says what was done, and ends; or calls a number
 * and connects the two. The record of a call out is kept before its end is told to anybody.
 */
export async function takeCode(call: CodeCall): Promise<LiveCall> {
  const { host, asked, act, onGone, manner = BY_HASH, records, towards = null } = call;
  const { node, options } = host;
  const { address, clock, keep } = options;
  const id = asked.request.callId;
  const startMs = Date.now();
  const beganMs = clock.now();
  const since = () => Math.max(0, Math.round(clock.now() - beganMs));
  const typing = typingAt(clock, manner);
  let typed: readonly string[] = [];
  let over = false;
  let isAnswered = false;
  let out: { readonly to: DialOut; readonly call: PlacedOut } | null = null;
  let inside: PlacedIn | null = null;
  let about = records ?? null;
  const by = records ? 'access' : 'code';
  let kept: Promise<void> | null = null;
  const media: MediaPort = await openMedia({
    address,
    socket: await soundTowards(address, towards, false),
    onKey: typing.key,
    onPacket: (bytes) => (inside ?? out?.call)?.relay(bytes),
  });
  const caller = sipCaller(node, asked, towards?.writes);
  media.aim(parseSdp(caller.offer));

  const recordNow = (): CallRecord | null => {
    if (out) {
      const { to, call: placed } = out;
      return { id, startMs, from: to.extension, to: to.number, ...placed.recorded(), source: 'live' };
    }
    return about
      ? {
          id,
          startMs,
          ...about,
          outcome: 'abandoned',
          atMs: since(),
          talkMs: 0,
          legs: [],
          source: 'live',
        }
      : null;
  };
  /** Tells how far it has come; a code that calls nobody is told of by nobody. */
  const tellStep = (step: CallOutAt['step'], talksMs: number | null = null) => {
    const who = out ? { from: out.to.extension, to: out.to.number } : about;
    if (who) host.tell({ kind: 'call-out', id, at: { ...who, by, startMs, step, talksMs } });
  };
  const end = (isOurs: boolean) => {
    if (over) return;
    over = true;
    if (out ?? about) host.tell({ kind: 'call-out', id, at: null });
    typing.stop();
    out?.call.end();
    inside?.end();
    // The record of a call to an extension is its own.
    const record = inside ? null : recordNow();
    kept = inside
      ? new Promise(inside.afterKept)
      : keep && record
        ? keep(record).catch(() => undefined)
        : null;
    media.close();
    const hangUp = () => {
      if (isOurs && isAnswered) caller.end();
    };
    if (kept) void kept.then(hangUp);
    else hangUp();
    onGone();
  };
  const tellAndEnd = (says: string) => {
    media.say(`told ${says}`, SAID_PACKETS);
    setTimeout(() => end(true), TOLD_MS);
  };
  const watch: OutWatch = {
    onAnswer: () => undefined,
    onPacket: media.relay,
    onOver: (why) => (why === null ? end(true) : tellAndEnd(why)),
  };
  const dial = (to: DialOut) => {
    const placed = placeOut(host, to, since, {
      ...watch,
      onAnswer: () => tellStep('talks', Date.now()),
    });
    if (placed) {
      out = { to, call: placed };
      tellStep('rings');
    } else {
      about = { from: to.extension, to: to.number };
      tellAndEnd('No channel was free.');
    }
  };
  const talk = async () => {
    let played = 0;
    for (let question = 0; question < MOST_QUESTIONS && !over;) {
      const { says, asks, dials, dialsIn, plays } = await act(typed);
      if (over) return;
      if (dialsIn) {
        media.say(`calls ${dialsIn.to}`, SAID_PACKETS);
        inside = placeIn(host, id, dialsIn, watch);
        return;
      }
      if (dials) {
        media.say(`calls ${dials.number}`, SAID_PACKETS);
        return dial(dials);
      }
      media.say(`${asks ? 'ask' : 'told'} ${says}`, SAID_PACKETS);
      if (plays) {
        played += 1;
        if (played > MOST_PLAYED) break;
        await later(TOLD_MS);
        await new Promise<void>((heard) => media.play(plays.muLaw, heard, clock.speed));
        if (over) return;
        plays.onHeard();
        continue;
      }
      if (!asks) break;
      question += 1;
      const next = await typing.next();
      if (next === null) break;
      typed = [...typed, next];
    }
    setTimeout(() => end(true), TOLD_MS);
  };
  asked.onCancel = () => {
    call.onHungUp?.();
    end(false);
    const confirm = () => asked.respond(487);
    if (kept) void kept.then(confirm);
    else confirm();
  };
  asked.onAck = () => void talk().catch(() => end(true));
  asked.onNoAck = () => end(false);
  const contact = `${caller.contact};automata`;
  const answer = () => {
    if (over) return;
    isAnswered = true;
    tellStep('asks');
    asked.respond(200, {
      headers: [
        ['Contact', contact],
        ['Content-Type', 'application/sdp'],
      ],
      body: media.sdp,
    });
  };
  if (call.ringMs === undefined) answer();
  else {
    asked.respond(180, { headers: [['Contact', contact]] });
    tellStep('rings');
    clock.after(call.ringMs, answer);
  }
  return {
    id,
    takesBye: (bye, from) => {
      if (out?.call.isBye(bye, from) || inside?.isBye(bye, from)) return true;
      if (over || !caller.isBye(bye, from)) return false;
      end(false);
      return true;
    },
    afterKept: (then) => {
      if (kept) void kept.then(then);
      else then();
    },
    close: () => end(true),
  };
}
