import type { NetworkPhone } from '../estate';
import { dig, enter, type Entered, TUNNEL_KEEP_ALIVE_S } from './enter';
import { verdictOf } from './outcome';
import { keepAlive, register, ring } from './signalling';
import { outermostNat, socketText, type Topology } from './topology';
import { type Silence, SILENCES, type Verdict } from './types';
import { CHANGED_ADDRESS, changeOutside, traced, without, type World } from './world';

/** So long a silence is looked at, s. */
export const LONGEST_SILENCE_S = 7500;
const CHANGE_AT_S = 10;
const CHANGE_SEEN_UNTIL_S = CHANGE_AT_S + LONGEST_SILENCE_S;

/** How often what happens by itself, s. */
interface Beats {
  readonly tunnel: number;
  readonly register: number;
  readonly keepAlive: number;
}
/** How often a phone registers anew, s. */
export const registersEachS = ({ registerExpiresS }: Pick<NetworkPhone, 'registerExpiresS'>): number =>
  Math.max(1, Math.floor(registerExpiresS / 2));
const beatsOf = ({ actor: { phone }, tunnel }: Entered): Beats => ({
  tunnel: tunnel ? TUNNEL_KEEP_ALIVE_S : Infinity,
  register: Number.isFinite(phone.registerExpiresS) ? registersEachS(phone) : Infinity,
  keepAlive: phone.keepAliveS ?? Infinity,
});
const nextOf = (beat: number, t: number) =>
  beat === Infinity ? Infinity : (Math.floor(t / beat) + 1) * beat;

/** Of what boxes know, how much it is: where that is new, so is what they know. */
function outlineOf({ world }: Entered): string {
  let text = '';
  for (const { box, memories, used } of world.boxes.values())
    text += `|${box.id} ${used.size} ${memories.length}`;
  return text;
}

/** What phone, server and boxes know at a second, with ages in place of times. */
function signatureOf({ actor, world }: Entered, t: number): string {
  const { contact, kept, connection } = actor;
  let text = `${socketText(contact)} ${kept ? socketText(kept.contact) : ''} ${connection ?? ''}`;
  for (const { box, memories, used } of world.boxes.values()) {
    text += `|${box.id} ${used.size}`;
    for (const each of memories) {
      const { proto, inside, key, port, last, first, answered, stream, open, notes } = each;
      // When it began counts only until it is a stream.
      text += `;${proto}${inside.address}:${inside.port} ${key} ${port} ${t - last} ${answered} ${stream || t - first} ${open}`;
      for (const [to, note] of notes) text += `,${to} ${t - note.last}`;
    }
  }
  return text;
}

/** Moves all that the boxes remember so many seconds on. */
function shift(world: World, by: number): void {
  for (const state of world.boxes.values())
    state.memories = state.memories.map((each) => ({
      ...each,
      first: each.first + by,
      last: each.last + by,
      notes: new Map(
        [...each.notes].map(([to, note]) => [to, { ...note, first: note.first + by, last: note.last + by }]),
      ),
    }));
}

/** A call tried at a second that leaves nothing behind, and until when it would end the same. */
function tryCall(
  { actor, world }: Entered,
  t: number,
): { readonly arrives: boolean; readonly until: number } {
  world.ledger.horizon = Infinity;
  const arrives = without(world, () => ring(actor, t).ok);
  return { arrives, until: world.ledger.horizon };
}

/** So often it is looked whether the same comes round again. */
const MOST_TRIES = 400;

/**
 * Lets time go from `from` on: what is due at each second happens in its order, then `look` is asked at each second at
 * which something may have changed. Where the same comes round again unchanged, the seconds between are left out.
 * @param stops seconds at which `look` is asked in any case, rising
 * @param look true ends it
 */
function letTimeGo(
  entered: Entered,
  from: number,
  to: number,
  stops: readonly number[],
  look: (t: number, until: (t: number) => void) => boolean,
): void {
  const { actor, tunnel, world } = entered;
  const beats = beatsOf(entered);
  const all = [beats.tunnel, beats.register, beats.keepAlive].filter(Number.isFinite);
  const slowest = Math.max(...all);
  const others = all.filter((beat) => beat !== slowest);
  const stopAfter = (t: number) => stops.find((stop) => stop > t) ?? Infinity;
  const phases = (of: readonly number[], t: number) => of.map((beat) => t % beat).join();
  const seen = new Map<string, number>();
  const outlines = new Set<string>();
  let tries = 0;
  /** How many seconds may be left out from here: what happened since the same was so before would happen again. */
  const leaveOut = (t: number): number => {
    if (++tries > MOST_TRIES) return 0;
    // A box that gives out one port after another knows thousands of things, and never the same again.
    const outline = outlineOf(entered);
    if (!outlines.has(outline)) {
      outlines.add(outline);
      return 0;
    }
    const signature = signatureOf(entered, t);
    const ends = Math.min(stopAfter(t), to + 1);
    const found: (readonly [string, number])[] = [
      [`whole ${phases(all, t)} ${signature}`, ends],
      // Until the slowest beat comes again only the others count.
      [`part ${phases(others, t)} ${signature}`, Math.min(ends, nextOf(slowest, t))],
    ];
    for (const [key, end] of found) {
      const before = seen.get(key);
      if (before !== undefined && (key.startsWith('whole') || nextOf(slowest, before) > t)) {
        const length = t - before;
        const times = Math.floor((end - 1 - t) / length);
        if (times > 0) {
          seen.clear();
          return times * length;
        }
      } else seen.set(key, t);
    }
    return 0;
  };
  for (let t = from; t <= to;) {
    const isRegister = t > 0 && t % beats.register === 0;
    const isKeepAlive = t > 0 && t % beats.keepAlive === 0;
    const isTunnel = t > 0 && t % beats.tunnel === 0;
    if (isTunnel) tunnel?.(t);
    if (isRegister) register(actor, t);
    if (isKeepAlive) keepAlive(actor, t);
    let expires = Infinity;
    if (
      look(t, (until) => {
        expires = until;
      })
    )
      return;
    if (isRegister || isKeepAlive || isTunnel) {
      const left = leaveOut(t);
      if (left > 0) {
        shift(world, left);
        t += left;
        expires += left;
      }
    }
    t = Math.min(
      nextOf(beats.register, t),
      nextOf(beats.keepAlive, t),
      nextOf(beats.tunnel, t),
      stopAfter(t),
      Math.max(expires, t + 1),
    );
  }
}

const silence = (seconds: number) => String(seconds) as Silence;

/** Registers, and whether it still rings after each silence; `silent`: the first call that does not arrive. */
export function ringing(topology: Topology, phone: NetworkPhone) {
  const entered = enter(topology, phone);
  const all = (verdict: Verdict) =>
    Object.fromEntries(SILENCES.map((each) => [silence(each), verdict])) as Record<Silence, Verdict>;
  if (!entered.ok) {
    const verdict = verdictOf(entered, []);
    return { registers: verdict, ringsAfter: all(verdict), worksUntil: 0, silent: verdict };
  }
  const { world, actor } = entered;
  const dug = traced(world, () => dig(entered));
  if (!dug.value.ok) {
    const verdict = verdictOf(dug.value, dug.trace);
    return { registers: verdict, ringsAfter: all(verdict), worksUntil: 0, silent: verdict };
  }
  const { value: begun, trace } = traced(world, () => register(actor, 0));
  const registers = verdictOf(begun, [...dug.trace, ...trace]);
  const ringsAfter: Partial<Record<Silence, Verdict>> = {};
  let worksUntil: number | null = null;
  let silent: Verdict | null = null;
  letTimeGo(entered, 0, LONGEST_SILENCE_S, SILENCES, (t, until) => {
    const named = SILENCES.find((each) => each === t);
    if (named !== undefined) {
      const call = traced(world, () => without(world, () => ring(actor, t)));
      ringsAfter[silence(named)] = verdictOf(
        !call.value.ok && !actor.kept && !begun.ok ? begun : call.value,
        call.trace,
      );
    }
    if (worksUntil === null) {
      const call = tryCall(entered, t);
      if (!call.arrives) {
        worksUntil = t;
        const again = traced(world, () => without(world, () => ring(actor, t)));
        silent = verdictOf(!again.value.ok && !actor.kept && !begun.ok ? begun : again.value, again.trace);
      }
      until(call.until);
    }
    // After the last silence nothing is asked any more of a phone that is known to fall silent.
    return worksUntil !== null && t >= (SILENCES.at(-1) ?? 0);
  });
  return { registers, ringsAfter: ringsAfter as Record<Silence, Verdict>, worksUntil, silent };
}

/**
 * Seconds without calls after the address of the outermost box with NAT has changed, 10 s after the registration.
 * @returns null where no call came before it, or none comes any more
 */
export function addressChange(topology: Topology, phone: NetworkPhone): number | null {
  const entered = enter(topology, phone);
  if (!entered.ok) return null;
  if (!dig(entered).ok) return null;
  register(entered.actor, 0);
  const box = outermostNat(topology, phone);
  let answer: number | null = null;
  letTimeGo(entered, 0, CHANGE_AT_S - 1, [CHANGE_AT_S - 1], () => false);
  if (!tryCall(entered, CHANGE_AT_S - 1).arrives) return null;
  if (!box) return 0;
  changeOutside(entered.world, box, CHANGED_ADDRESS);
  letTimeGo(entered, CHANGE_AT_S, CHANGE_SEEN_UNTIL_S, [], (t, until) => {
    const call = tryCall(entered, t);
    if (call.arrives) answer = t - CHANGE_AT_S;
    until(call.until);
    return call.arrives;
  });
  return answer;
}
