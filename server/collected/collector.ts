import type { Logger } from 'pino';
import { aboutError, onceAMinute } from '../base';
import type { Db } from '../db';
import type { CallGoingOn } from '../http';
import type { KeepsWhatGoes } from '../switchboard';
import type { CallOutAt } from '../../standins/system';
import { recordOfCall, type CallRecord } from '../../core/records';
import { monthOf, partOffMonths } from './months';
import { ladderRow, putLadders, type LadderRowValues } from './ladders';
import { forgetOlder, putCalls, putRegistrationChanges, type RegistrationChange } from './queries';
import { takeInSpool } from './spool';

/** What waits to be written: more than this is not kept, and said. */
const MOST_WAITING = 20_000;
/** Calls whose end was not told of: so many are waited for. */
const MOST_OPEN = 20_000;
const WRITE_EVERY_MS = 1000;
const MOST_AT_ONCE = 500;
/** The messages of so many calls wait at most, and so many are written at once. */
const MOST_LADDERS = 2000;
const LADDERS_AT_ONCE = 100;
const FORGET_EVERY_MS = 3_600_000;
const DAY_MS = 86_400_000;

type OpenCall = { -readonly [Key in keyof CallGoingOn]: CallGoingOn[Key] };

/** Keeps what cannot be collected afterwards. */
export interface Collector extends KeepsWhatGoes {
  /** The same calls going on, where another server keeps them: nothing is written. */
  readonly watching: KeepsWhatGoes;
  /** Writes what waits, and ends. */
  readonly close: () => Promise<void>;
  /** Writes what waits now. */
  readonly flush: () => Promise<void>;
  /** Calls that are going on over the phone system, by their ids. */
  readonly inProgress: () => ReadonlyMap<string, CallGoingOn>;
}

/** For so many days it is kept; 90 where nothing else is said. */
export const keptDays = (): number => {
  const days = Number(process.env.HOSTLER_KEEP_DAYS ?? 90);
  return Number.isFinite(days) && days >= 1 && days <= 3660 ? days : 90;
};

/** A call that the phone system could not write down itself, for it ended in the middle of it. */
function recordOf(id: string, { startMs, call, settled }: OpenCall, overMs: number): CallRecord | null {
  if (!settled) return null;
  const { trace, atMs } = settled;
  return recordOfCall({ id, startMs, call, trace, settledMs: atMs - startMs, overMs: overMs - startMs });
}

/** A call out that no plan steers, among those that are. */
const goingOut = (out: CallOutAt): OpenCall => ({
  startMs: out.startMs,
  call: { from: out.from, to: out.to, at: new Date(out.startMs).toISOString() },
  trace: null,
  settled: null,
  out,
});

/** What the collector works with. */
export interface CollectorOptions {
  readonly db: Db;
  /** The database as the account that call records are kept by. */
  readonly keeper: Db;
  readonly log: Logger;
  /** Where the phone system leaves records of calls; left out: nowhere. */
  readonly spool?: string;
  readonly now?: () => number;
}

export function openCollector({ db, keeper, log, spool, now = Date.now }: CollectorOptions): Collector {
  const say = onceAMinute(log);
  const open = new Map<string, OpenCall>();
  let calls: CallRecord[] = [];
  let changes: RegistrationChange[] = [];
  let ladders: LadderRowValues[] = [];
  let writing: Promise<void> | null = null;
  let dropped = 0;
  const keep = <T>(list: T[], one: T, most = MOST_WAITING) => {
    if (list.length < most) list.push(one);
    else if ((dropped += 1) % 1000 === 1) say('more is to be kept than the database takes', { dropped });
  };

  async function write(): Promise<void> {
    const [someCalls, someChanges] = [calls.slice(0, MOST_AT_ONCE), changes.slice(0, MOST_AT_ONCE)];
    const someLadders = ladders.slice(0, LADDERS_AT_ONCE);
    if (someCalls.length + someChanges.length + someLadders.length === 0) return;
    try {
      await putCalls(keeper, someCalls);
      calls = calls.slice(someCalls.length);
      await putRegistrationChanges(db, someChanges);
      changes = changes.slice(someChanges.length);
      await putLadders(keeper, someLadders);
      ladders = ladders.slice(someLadders.length);
    } catch (error) {
      // It stays in line, and is tried again.
      say('calls and registrations could not be kept', { err: aboutError(error) });
    }
  }
  const flush = async () => {
    await writing;
    writing = takeIn()
      .then(write)
      .finally(() => {
        writing = null;
      });
    await writing;
  };
  /** Takes in what the phone system has left on the disk. */
  const takeIn = async () => {
    if (spool === undefined) return;
    await takeInSpool(keeper, spool, log).catch((error: unknown) =>
      say('call records could not be taken in', { err: aboutError(error) }),
    );
  };
  const timer = setInterval(() => {
    if (!writing) void flush();
  }, WRITE_EVERY_MS);
  const forget = () =>
    void keepMonths(db, keeper, now()).catch((error: unknown) =>
      say('old calls could not be deleted', { err: aboutError(error) }),
    );
  const forgetting = setInterval(forget, FORGET_EVERY_MS);
  const finish = (id: string) => {
    const call = open.get(id);
    open.delete(id);
    const record = call && recordOf(id, call, now());
    if (record) keep(calls, record);
  };
  const follows: Omit<KeepsWhatGoes, 'registration' | 'ladder' | 'systemEnded'> = {
    callBegan: (id, call, startMs) => {
      if (open.size < MOST_OPEN) open.set(id, { startMs, call, trace: null, settled: null });
    },
    callWentOn: (id, trace) => {
      const call = open.get(id);
      if (call) call.trace = trace;
    },
    callSettled: (id, trace) => {
      const call = open.get(id);
      if (call) call.settled = { trace, atMs: now() };
    },
    // Its record is on the disk before this is told.
    callOver: (id) => void open.delete(id),
    callOut: (id, out) => {
      if (out === null) open.delete(id);
      else if (open.has(id) || open.size < MOST_OPEN) open.set(id, goingOut(out));
    },
  };
  const nothing = () => undefined;
  return {
    ...follows,
    watching: {
      ...follows,
      registration: nothing,
      ladder: nothing,
      systemEnded: () => open.clear(),
    },
    registration: (change) => keep(changes, { ...change, at: new Date(now()) }),
    ladder: (ladder, names) => keep(ladders, ladderRow(ladder, names), MOST_LADDERS),
    systemEnded: () => {
      for (const id of [...open.keys()]) finish(id);
    },
    flush,
    inProgress: () => open,
    close: async () => {
      clearInterval(timer);
      clearInterval(forgetting);
      await flush();
      for (let rounds = 0; rounds < 5 && calls.length + changes.length + ladders.length > 0; rounds++)
        await flush();
    },
  };
}

/** Parts off this month and the next, and deletes what is kept no longer. */
export async function keepMonths(db: Db, keeper: Db, nowMs: number): Promise<void> {
  const now = new Date(nowMs);
  await partOffMonths(keeper, monthOf(now, -1), monthOf(now, 1));
  await forgetOlder(db, keeper, new Date(nowMs - keptDays() * DAY_MS));
}
