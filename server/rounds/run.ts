import { randomUUID } from 'node:crypto';
import { performance } from 'node:perf_hooks';
import type { Logger } from 'pino';
import { afterRoundCall, channelsFor, mayCallAt, whyNotCalled, type RoundPlan } from '../../core/rounds';
import { soundName } from '../../standins/messages';
import type { RoundCallEnded } from '../../standins/system';
import { aboutError, onceAMinute } from '../base';
import type { ListedSounds, NamedSound } from '../switchboard';
import { inTransaction, type Tx } from '../db';
import type { Services } from '../http';
import { addRecord } from '../record';
import { soundOf } from '../recordings';
import {
  beginCall,
  dueNumbers,
  endCall,
  giveUpCalls,
  hasWaiting,
  holdRound,
  numberAt,
  openCalls,
  refuseNumber,
  roundsToRun,
  unbeginCall,
  zonesWaiting,
  type DueNumber,
} from './claims';
import { neverCalled, patchRound, putNeverCall } from './queries';

type Needs = Pick<Services, 'db' | 'store' | 'now' | 'phones'>;

export interface RunsRounds {
  /** Places the calls that are due; done by itself every second. */
  readonly look: () => Promise<void>;
  /** Told by the phone system how a call ended. */
  readonly ended: (id: string, ended: RoundCallEnded) => void;
  /** Stops calling: what is open is not known from then on. */
  readonly close: () => Promise<void>;
}

const LOOK_EVERY_MS = 1000;
const NOT_KNOWN = 'how this call ended is not known';
const FULL_MS = 5000;

/** All that a round plays; null: something of it is not there. */
async function soundsOf(db: Needs['db'], { recording, keys = [] }: RoundPlan): Promise<ListedSounds | null> {
  const named = async (id: number | null): Promise<NamedSound | null> => {
    const muLaw = id === null ? null : await soundOf(db, id);
    return muLaw && { id: soundName(id ?? ''), muLaw };
  };
  const message = await named(recording);
  if (!message) return null;
  const played: Record<string, NamedSound | null> = {};
  for (const { key, play } of keys) {
    const sound = await named(play);
    if (play !== null && !sound) return null;
    played[key] = sound;
  }
  return { message, keys: played };
}

interface Open {
  readonly round: number;
  readonly line: number;
  readonly nth: number;
  readonly plan: RoundPlan;
}
const idOf = ({ round, line, nth }: Pick<Open, 'round' | 'line' | 'nth'>) => `${round}.${line}.${nth}`;

/**
 * Calls the numbers of the rounds that run. Of several servers on one database one calls each round; who is being
 * called is written before the call is placed, so that nobody is called twice, whatever ends in the middle.
 */
export function runRounds(services: () => Needs, log: Logger): RunsRounds {
  const server = randomUUID();
  const say = onceAMinute(log);
  /** Calls that the phone system has, and ends that could not be written yet. */
  const open = new Map<string, Open>();
  const unwritten = new Map<string, { readonly of: Open; readonly ended: RoundCallEnded }>();
  /** Rounds that found no channel free, and until when they ask for none. */
  const fullUntil = new Map<number, number>();
  let looking: Promise<void> | null = null;
  let again = false;
  let closed = false;

  const sayNot = (error: unknown) => say('a round could not go on', { err: aboutError(error) });

  async function write(of: Open, { end, playedMs, keys }: RoundCallEnded): Promise<void> {
    const { db, now } = services();
    const at = now();
    const after = afterRoundCall(of.plan, end, of.nth, at.getTime(), keys);
    const again = after.againMs === null ? null : new Date(after.againMs);
    await inTransaction(db, async (tx) => {
      if (end === 'no-channel') return unbeginCall(tx, of.round, of.line, of.nth, again ?? at, after.why);
      const isMine = await endCall(tx, {
        ...of,
        end,
        playedMs,
        state: after.state,
        again,
        why: after.why,
        at,
      });
      if (!isMine || !after.never) return;
      const number = await numberAt(tx, of.round, of.line);
      if (number !== null)
        await putNeverCall(tx, { number, at, who: 'by itself', why: `pressed 9 in ${of.plan.name}` });
    });
  }

  async function settle(of: Open, ended: RoundCallEnded): Promise<void> {
    const id = idOf(of);
    unwritten.set(id, { of, ended });
    await write(of, ended);
    unwritten.delete(id);
  }

  /** Takes the numbers that are due of one round; each is written as being called when this returns. */
  async function claim(
    round: number,
  ): Promise<{ readonly plan: RoundPlan; readonly numbers: readonly DueNumber[] } | null> {
    const { db, store, now } = services();
    const { estate } = await store.current();
    const zones = await zonesWaiting(db, round);
    const at = now();
    return inTransaction(db, async (tx) => {
      const held = await holdRound(tx, round, server);
      if (!held) return null;
      const { plan } = held;
      const calling = await openCalls(tx, round);
      const isMine = (each: { readonly line: number; readonly tries: number }) => {
        const id = idOf({ round, line: each.line, nth: each.tries });
        return open.has(id) || unwritten.has(id);
      };
      const lost = calling.filter((each) => !isMine(each));
      await giveUpCalls(
        tx,
        round,
        lost.map(({ line }) => line),
        NOT_KNOWN,
      );
      const going = calling.length - lost.length;
      if (held.state !== 'running') return null;
      const openZones = zones.filter((zone) => mayCallAt(plan, zone, at.getTime()));
      // While every channel is taken by people, nothing is asked for again and again.
      const isHeld = (fullUntil.get(round) ?? 0) > performance.now();
      const most = Math.min(plan.atOnce, channelsFor(estate.trunks, plan.keepFree)) - going;
      const due = await dueNumbers(tx, round, openZones, at, isHeld ? 0 : most);
      const never = await neverCalled(
        tx,
        due.map(({ number }) => number),
      );
      const numbers: DueNumber[] = [];
      for (const each of due) {
        const why = whyNotCalled(each.number, { estate, permission: plan.permission, never });
        if (why !== null)
          await refuseNumber(tx, round, each.line, never.has(each.number) ? 'never-call' : 'refused', why);
        else {
          await beginCall(tx, round, each, server, at);
          numbers.push(each);
        }
      }
      if (going === 0 && due.length === 0 && !isHeld) await endIfDone(tx, round, plan, at);
      return { plan, numbers };
    });
  }

  async function endIfDone(tx: Tx, round: number, plan: RoundPlan, at: Date): Promise<void> {
    if (await hasWaiting(tx, round)) return;
    await patchRound(tx, round, { state: 'done', endedAt: at });
    await addRecord(tx, { who: 'by itself', kind: 'round-done', subject: plan.name });
  }

  async function callRound(round: number): Promise<void> {
    const { db, phones } = services();
    const claimed = await claim(round);
    if (!claimed || claimed.numbers.length === 0) return;
    const { plan, numbers } = claimed;
    const sounds = await soundsOf(db, plan).catch(() => null);
    for (const { line, number, tries } of numbers) {
      const of: Open = { round, line, nth: tries + 1, plan };
      const id = idOf(of);
      open.set(id, of);
      const isPlaced =
        sounds !== null &&
        phones.callListed(
          {
            id,
            number,
            callerId: plan.callerId,
            ringMs: plan.ringS * 1000,
            keepFree: plan.keepFree,
          },
          sounds,
        );
      if (isPlaced) continue;
      open.delete(id);
      await settle(of, { end: 'no-channel', playedMs: 0 });
    }
  }

  async function lookOnce(): Promise<void> {
    const { db, phones } = services();
    // What one cannot do keeps no other from going on.
    const each = async (work: Promise<void>) => work.catch((error: unknown) => sayNot(error));
    for (const { of, ended } of unwritten.values()) await each(settle(of, ended));
    // Without a phone system nothing is taken up.
    if (!phones.place()) return;
    for (const round of await roundsToRun(db)) if (!closed) await each(callRound(round));
  }

  async function look(): Promise<void> {
    if (looking) {
      again = true;
      return looking;
    }
    looking = (async () => {
      do {
        again = false;
        await lookOnce();
      } while (again && !closed);
    })().finally(() => {
      looking = null;
    });
    return looking;
  }
  const lookSoon = () => {
    if (!closed) look().catch(sayNot);
  };
  const timer = setInterval(lookSoon, LOOK_EVERY_MS);

  return {
    look,
    ended: (id, ended) => {
      const of = open.get(id);
      if (!of) return;
      open.delete(id);
      if (ended.end === 'no-channel') fullUntil.set(of.round, performance.now() + FULL_MS);
      settle(of, ended)
        .then(lookSoon)
        .catch((error: unknown) =>
          say('how a call of a round ended could not be noted', { err: aboutError(error) }),
        );
    },
    close: async () => {
      if (closed) return;
      closed = true;
      clearInterval(timer);
      await looking?.catch(() => undefined);
      const { db } = services();
      // Another server may go on at once.
      await db
        .execute('UPDATE call_round SET alive_at = NULL WHERE server = ?', [server])
        .catch(() => undefined);
    },
  };
}
