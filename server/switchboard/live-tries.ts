import { randomUUID } from 'node:crypto';
import type { LiveOrder } from '../../standins/messages';
import { refusal } from '../base';
import type { LiveTry } from './types';

/** Tries of which is still known how they went. */
const KEPT_TRIES = 30;
/** Tries of one account, and all together, at the same moment. */
const MOST_TRIES = { own: 4, altogether: 20 } as const;

/** The tries over the stand-ins, as far as each has come. @param tell hears of each change */
export function liveTries(tell: (live: LiveTry) => void) {
  const tries = new Map<string, LiveTry>();
  const change = (id: string, more: Partial<LiveTry>): void => {
    const before = tries.get(id);
    if (!before) return;
    const live = { ...before, ...more };
    tries.set(id, live);
    tell(live);
  };
  const put = (live: LiveTry): void => {
    tries.set(live.id, live);
    for (const [old, each] of tries)
      if (tries.size > KEPT_TRIES && each.state !== 'running') tries.delete(old);
  };
  return {
    change,
    /** One that was begun at another server. */
    begun: (live: LiveTry): void => {
      if (!tries.has(live.id)) put(live);
    },
    all: (): readonly LiveTry[] => [...tries.values()],
    get: (id: string): LiveTry | null => tries.get(id) ?? null,
    /** @throws Refusal 429 where too many go on */
    begin: (who: string, { call, speed, asIf }: Omit<LiveOrder, 'id'>): LiveTry => {
      const running = [...tries.values()].filter(({ state }) => state === 'running');
      if (
        running.length >= MOST_TRIES.altogether ||
        running.filter((each) => each.who === who).length >= MOST_TRIES.own
      )
        throw refusal(429, 'Other calls are being tried. Wait until they have ended.');
      const live: LiveTry = {
        id: randomUUID(),
        who,
        call,
        speed,
        asIf,
        startedAt: new Date().toISOString(),
        state: 'running',
        predicted: null,
        seen: null,
        atMs: 0,
        done: null,
        why: null,
      };
      put(live);
      return live;
    },
    /** Those that still go on fail. */
    failed: (why: string): void => {
      for (const [id, { state }] of tries) if (state === 'running') change(id, { state: 'failed', why });
    },
  };
}
