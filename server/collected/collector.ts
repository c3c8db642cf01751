import type { Logger } from 'pino';
import type { Call, Trace } from '../../core/calls/engine';
import { aboutError, onceAMinute } from '../base';
import type { Db } from '../db';
import type { KeepsWhatGoes } from '../switchboard';
import {
  forgetOlder,
  putCalls,
  putRegistrationChanges,
  type KeptCall,
  type RegistrationChange,
} from './queries';

/** What waits to be written: more than this is not kept, and said. */
const MOST_WAITING = 20_000;
/** Calls whose end was not told of: so many are waited for. */
const MOST_OPEN = 20_000;
const WRITE_EVERY_MS = 1000;
const MOST_AT_ONCE = 500;
const FORGET_EVERY_MS = 3_600_000;
const DAY_MS = 86_400_000;

interface OpenCall {
  readonly startMs: number;
  readonly call: Call;
  settled: { readonly trace: Trace; readonly atMs: number } | null;
}

/** Keeps what cannot be collected afterwards. */
export interface Collector extends KeepsWhatGoes {
  /** Writes what waits, and ends. */
  readonly close: () => Promise<void>;
  /** Writes what waits now. */
  readonly flush: () => Promise<void>;
}

/** For so many days it is kept; 90 where nothing else is said. */
const keptDays = (): number => {
  const days = Number(process.env.HOSTLER_KEEP_DAYS ?? 90);
  return Number.isFinite(days) && days >= 1 && days <= 3660 ? days : 90;
};

/** A call as call records have it (docs/formats.md). */
function recordOf(id: string, { startMs, call, settled }: OpenCall, overMs: number): KeptCall | null {
  if (!settled) return null;
  const { outcome, legs } = settled.trace;
  const isTalk = outcome.kind === 'answered' || outcome.kind === 'mailbox';
  return {
    id,
    startedAt: new Date(startMs),
    body: JSON.stringify({
      id,
      startAt: new Date(startMs).toISOString(),
      from: call.from,
      to: call.to,
      ...(call.arrival ? { arrival: call.arrival } : {}),
      outcome: outcome.kind,
      atMs: outcome.atMs,
      ...('endpoint' in outcome ? { answeredBy: outcome.endpoint } : {}),
      talkMs: isTalk ? Math.max(0, overMs - settled.atMs) : 0,
      legs,
      source: 'live',
    }),
  };
}

export function openCollector(db: Db, log: Logger, now: () => number = Date.now): Collector {
  const say = onceAMinute(log);
  const open = new Map<string, OpenCall>();
  let calls: KeptCall[] = [];
  let changes: RegistrationChange[] = [];
  let writing: Promise<void> | null = null;
  let dropped = 0;
  const keep = <T>(list: T[], one: T) => {
    if (list.length < MOST_WAITING) list.push(one);
    else if ((dropped += 1) % 1000 === 1) say('more is to be kept than the database takes', { dropped });
  };

  async function write(): Promise<void> {
    const [someCalls, someChanges] = [calls.slice(0, MOST_AT_ONCE), changes.slice(0, MOST_AT_ONCE)];
    if (someCalls.length + someChanges.length === 0) return;
    try {
      await putCalls(db, someCalls);
      calls = calls.slice(someCalls.length);
      await putRegistrationChanges(db, someChanges);
      changes = changes.slice(someChanges.length);
    } catch (error) {
      // It stays in line, and is tried again.
      say('calls and registrations could not be kept', { err: aboutError(error) });
    }
  }
  const flush = async () => {
    await writing;
    writing = write().finally(() => {
      writing = null;
    });
    await writing;
  };
  const timer = setInterval(() => {
    if (!writing) void flush();
  }, WRITE_EVERY_MS);
  const forget = () =>
    void forgetOlder(db, new Date(now() - keptDays() * DAY_MS)).catch((error: unknown) =>
      say('old calls could not be deleted', { err: aboutError(error) }),
    );
  const forgetting = setInterval(forget, FORGET_EVERY_MS);
  const finish = (id: string) => {
    const call = open.get(id);
    open.delete(id);
    const record = call && recordOf(id, call, now());
    if (record) keep(calls, record);
  };
  return {
    registration: (change) => keep(changes, { ...change, at: new Date(now()) }),
    callBegan: (id, call) => {
      if (open.size < MOST_OPEN) open.set(id, { startMs: now(), call, settled: null });
    },
    callSettled: (id, trace) => {
      const call = open.get(id);
      if (call) call.settled = { trace, atMs: now() };
    },
    callOver: finish,
    systemEnded: () => {
      for (const id of [...open.keys()]) finish(id);
    },
    flush,
    close: async () => {
      clearInterval(timer);
      clearInterval(forgetting);
      for (let rounds = 0; rounds < 5 && calls.length + changes.length > 0; rounds++) await flush();
    },
  };
}
