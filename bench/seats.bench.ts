import { desksAt, enoughDesks, weekOfDate } from '../core/desks';
import type { Estate } from '../core/estate';
import { runGroup } from '../core/staffing';
import { comingOf, queueOf } from '../core/statistics';
import { toneMuLaw } from '../core/wire/rtp';
import { skerrowSoundFerries } from '../demo/skerrow';
import type { Line } from './engine.bench';
import type { FromStandins } from '../standins/messages';
import { openTown } from '../standins/town';

const ms = (value: number) => `${Math.round(value)} ms`;
function timed<T>(work: () => T): { readonly took: number; readonly result: T } {
  const from = performance.now();
  const result = work();
  return { took: performance.now() - from, result };
}

const PEOPLE = 2000;
const SITES = 100;
const HALF_HOURS = 336;
const SEATS = 500;
const CALLS = 20_000;
const NUMBERS = 1000;
const AT_ONCE = 50;

/** Everybody comes with a share of their own, so that no two half hours are alike by chance. */
function rosters(): Estate {
  const estate = skerrowSoundFerries();
  return {
    ...estate,
    sites: Array.from({ length: SITES }, (_each, n) => ({ id: `s${n}`, name: `Site ${n}`, kind: 'office' })),
    people: Array.from({ length: PEOPLE }, (_each, n) => ({
      ...estate.people[n % estate.people.length]!,
      id: `p${n}`,
      roster: [
        { schedule: n % 2 === 0 ? 'early' : 'late', site: `s${n % SITES}`, share: 0.2 + (n % 79) / 100 },
      ],
    })),
  };
}

/** A round of 1,000 numbers at 50 at once, over real SIP and RTP: short recordings, whoever answers presses 1. */
async function round(): Promise<number> {
  const estate = skerrowSoundFerries();
  const waiting = Array.from(
    { length: NUMBERS },
    (_each, n) => `+1604555${1000 + Math.floor(n / 4) * 10 + (n % 4)}`,
  );
  let left = NUMBERS;
  let done: () => void = () => undefined;
  const all = new Promise<void>((resolve) => (done = resolve));
  const town = await openTown({
    port: 0,
    mostPhones: 0,
    tell: (message: FromStandins) => {
      if (message.kind !== 'round-called') return;
      left -= 1;
      if (left === 0) done();
      else next();
    },
  });
  const next = () => {
    const number = waiting.pop();
    if (number !== undefined)
      town.callListed(
        { id: number, number, callerId: null, ringMs: 20_000, keepFree: 0 },
        { message: 'tone', keys: {} },
      );
  };
  await town.setEstate({
    ...estate,
    trunks: estate.trunks.map((each) => ({ ...each, channels: 2 * AT_ONCE })),
  });
  town.setSound('tone', toneMuLaw(500, 2000));
  const from = performance.now();
  for (let n = 0; n < AT_ONCE; n += 1) next();
  await all;
  const took = performance.now() - from;
  await town.close();
  return took;
}

/** Desks, seats and rounds. */
export async function seatsBench(line: Line): Promise<void> {
  const shares = Array.from({ length: PEOPLE }, (_each, n) => 0.05 + (n % 90) / 100);
  const week = timed(() => {
    for (let slot = 0; slot < HALF_HOURS; slot += 1)
      comingOf(shares.map((share) => [share - slot / 10_000, 1]));
  });
  line(`Poisson binomial of ${PEOPLE} at ${HALF_HOURS} half hours`, ms(week.took));
  const estate = rosters();
  const { fromMs, toMs } = weekOfDate('2026-11-23', estate.timeZone)!;
  const sites = timed(() => estate.sites!.map(({ id }) => enoughDesks(estate, id, fromMs, toMs)));
  line(`enough desks: ${PEOPLE} people, ${SITES} sites`, ms(sites.took), 'under 1 s');
  line('  desks there', String(desksAt(estate, 's0').length));
  const erlang = timed(() => queueOf({ callsPerHour: 197_000, handleS: 180, servers: 10_000 }));
  line('Erlang C of 10,000 servers', `${erlang.took.toFixed(2)} ms`);
  const seat = { rank: 1, callsAtOnce: 1, ringMs: 15_000, wrapUpMs: 30_000, missesUntilPaused: 3 };
  for (const mode of ['simultaneous', 'by-rank', 'longest-idle'] as const) {
    const run = timed(() =>
      runGroup(
        { mode, ringMs: 20_000, queueMs: 600_000, seats: Array.from({ length: SEATS }, () => seat) },
        { callsPerHour: 7000, talkS: 200, pickUpS: 5, missShare: 0.05, backAfterS: 300, withinS: 20 },
        CALLS,
        1,
      ),
    );
    line(
      `a group of ${SEATS} seats, ${mode}: simulated calls a second`,
      String(Math.round((CALLS * 1000) / run.took)),
      '10,000',
    );
  }
  line(`a round of ${NUMBERS} numbers, ${AT_ONCE} at once, over SIP and RTP`, ms(await round()));
}
