import { DateTime } from 'luxon';
import { endpointTimes, type Estate, type Person } from '../core/estate';
import {
  compileEstate,
  runInDetail,
  type Call,
  type EndpointBehaviour,
  type EstateIndex,
  type KnownEndpoint,
  type World,
} from '../core/calls/engine';
import { isoIn } from '../core/calls/time';
import { recordOfCall, type CallRecord } from '../core/records';
import { numberOf } from '../core/statistics';
import { zoneNamed } from '../core/zones';

/** Six weeks of made-up calls, from the engine itself: each person and carrier has habits, and some of it went wrong. */
export const PAST_DAYS = 42;

/** The estate from a moment on. */
export interface EstateVersion {
  readonly fromMs: number;
  readonly estate: Estate;
  /** What was changed then, for the record; null: the beginning. */
  readonly changed: { readonly person: string; readonly why: string } | null;
}
export interface DemoPast {
  readonly versions: readonly EstateVersion[];
  readonly records: readonly CallRecord[];
  readonly registrations: readonly {
    readonly atMs: number;
    readonly endpoint: string;
    readonly state: 'registered' | 'removed';
  }[];
  /** What went wrong, and when: what the application has to find by itself. */
  readonly wrong: {
    readonly forgotten: { readonly endpoint: string; readonly fromMs: number; readonly toMs: number };
    readonly trunkDown: { readonly trunk: string; readonly fromMs: number; readonly toMs: number };
    readonly quicker: { readonly prefix: string; readonly sinceMs: number };
    readonly leave: { readonly person: string; readonly fromMs: number; readonly toMs: number };
  };
}

/** Numbers from 0 to 1, the same ones for a seed (mulberry32). */
function seeded(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
}
type Random = () => number;
const normal = (random: Random) => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
const around = (random: Random, medianMs: number, spread: number) =>
  Math.round(medianMs * Math.exp(spread * normal(random)));
const pick = <T>(random: Random, list: readonly T[]): T => list[Math.floor(random() * list.length)]!;

/** Calls an hour on a working day, by the hour of the day. */
const RATE = [0, 0, 0, 0, 0, 1, 4, 9, 17, 21, 19, 16, 13, 17, 18, 16, 13, 9, 6, 5, 3, 2, 1, 0];
const WEEKEND = 0.3;
const RECEPTION = 'noor';
/** What reception had before its extension was changed, and its phone was not restarted. */
const OLD_EXTENSION = '4290';
const ON_LEAVE = 'ines';
const QUICKER_PREFIX = '+1236';
const TRUNK = 'terminal';
const SEED = 20_261_129;

const changed = (estate: Estate, id: string, by: (person: Person) => Person): Estate => ({
  ...estate,
  people: estate.people.map((person) => (person.id === id ? by(person) : person)),
});

/** How soon the voicemail of each carrier takes a call, after the first ring. */
const PICK_UP_MS: Readonly<Record<string, number>> = {
  '+1236': 25_500,
  '+1672': 26_500,
  '+1778': 24_000,
  '+1604': 30_000,
};
const QUICKER_MS = 15_500;
const SETUP_MS: Readonly<Record<string, number>> = {
  '+1236': 4200,
  '+1672': 5600,
  '+1778': 3400,
  '+1604': 4800,
};

/** @param nowMs the calls end here, @param days so many before begin them */
export function demoPast(estate: Estate, nowMs: number, days = PAST_DAYS): DemoPast {
  const zone = zoneNamed(estate.timeZone);
  const today = DateTime.fromMillis(nowMs, { zone }).startOf('day');
  const at = (daysAgo: number, hour: number, minute = 0) =>
    today.minus({ days: daysAgo }).set({ hour, minute }).toMillis();
  /** That day, or the working day before it. */
  const worked = (daysAgo: number): number =>
    today.minus({ days: daysAgo }).weekday >= 6 ? worked(daysAgo + 1) : daysAgo;
  const [changedOn, downOn] = [worked(20), worked(8)];
  const wrong: DemoPast['wrong'] = {
    forgotten: {
      endpoint: `${RECEPTION}-desk`,
      fromMs: at(changedOn, 10, 12),
      toMs: at(changedOn - 3, 8, 40),
    },
    trunkDown: { trunk: TRUNK, fromMs: at(downOn, 15, 30), toMs: at(downOn, 19) },
    quicker: { prefix: QUICKER_PREFIX, sinceMs: at(16, 0) },
    leave: { person: ON_LEAVE, fromMs: at(6, 8, 5), toMs: at(1, 15, 10) },
  };
  const onLeave = changed(estate, ON_LEAVE, (person) => ({ ...person, status: 'on-leave' }));
  const older = changed(estate, RECEPTION, (person) => ({
    ...person,
    lines: person.lines.map((line, n) => (n === 0 ? { ...line, extension: OLD_EXTENSION } : line)),
  }));
  const versions: readonly EstateVersion[] = [
    { fromMs: at(PAST_DAYS + 1, 9), estate: older, changed: null },
    {
      fromMs: wrong.forgotten.fromMs,
      estate,
      changed: { person: RECEPTION, why: 'Reception is to have an extension that is easy to say' },
    },
    {
      fromMs: wrong.leave.fromMs,
      estate: onLeave,
      changed: { person: ON_LEAVE, why: 'Leave until tomorrow week' },
    },
    { fromMs: wrong.leave.toMs, estate, changed: { person: ON_LEAVE, why: 'Back sooner' } },
  ];
  const maker = callMaker(versions, wrong);
  const records: CallRecord[] = [];
  const random = seeded(SEED);
  for (let ago = days; ago >= 0; ago -= 1) {
    const day = today.minus({ days: ago });
    const busy = day.weekday >= 6 ? WEEKEND : 1;
    for (const [hour, rate] of RATE.entries())
      for (let n = around(random, Math.max(0.1, rate * busy), 0.25); n > 0; n -= 1) {
        const startMs = day.set({ hour }).toMillis() + Math.floor(random() * 3_600_000);
        if (startMs < nowMs) records.push(maker(`demo-${ago}-${hour}-${n}`, startMs));
      }
  }
  // The call that Ines asks about.
  records.push(maker('demo-at-three', at(1, 15, 4) + 21_000, '4101'));
  return {
    versions,
    records: records.sort((a, b) => a.startMs - b.startMs),
    registrations: [
      { atMs: at(PAST_DAYS, 6), endpoint: wrong.forgotten.endpoint, state: 'registered' },
      { atMs: wrong.forgotten.toMs, endpoint: wrong.forgotten.endpoint, state: 'removed' },
      { atMs: wrong.forgotten.toMs + 45_000, endpoint: wrong.forgotten.endpoint, state: 'registered' },
    ],
    wrong,
  };
}

/** Each caller and each phone does as it usually does, a little different each time. */
function callMaker(versions: readonly EstateVersion[], wrong: DemoPast['wrong']) {
  const random = seeded(SEED + 1);
  const indexes = versions.map(({ estate }) => compileEstate(estate));
  const trunk = versions[0]!.estate.trunks.find(({ id }) => id === wrong.trunkDown.trunk);
  return (id: string, startMs: number, dialled?: string): CallRecord => {
    const nth = versions.findLastIndex(({ fromMs }) => fromMs <= startMs);
    const index = indexes[Math.max(0, nth)]!;
    const to = dialled ?? calledNumber(random, index, versions.at(-1)!.fromMs <= startMs);
    const behaviours = habits(numberOf(id), index, startMs, wrong);
    const menu = index.estate.menus[0];
    const keys = menu?.rules[0]?.choices.map((choice) => choice.key) ?? [];
    const [isPressing, key, afterMs] = [
      random() < 0.8 && keys.length > 0,
      pick(random, keys),
      3500 + Math.floor(random() * 4000),
    ];
    const presses: World = menu && isPressing ? { presses: { [menu.id]: { key: key!, afterMs } } } : {};
    const isDown = startMs >= wrong.trunkDown.fromMs && startMs < wrong.trunkDown.toMs;
    const call: Call = {
      from: callerOf(random, index),
      to,
      at: isoIn(startMs, index.estate.timeZone),
      patienceMs: around(random, 48_000, 0.5),
      world: {
        ...presses,
        endpoints: behaviours,
        ...(isDown && trunk ? { trunkUse: { [trunk.id]: trunk.channels } } : {}),
      },
    };
    const { trace, details } = runInDetail(index, call);
    const talkMs = Math.max(3000, around(random, 95_000, 0.9));
    const carried = new Map(
      trace.legs.flatMap(({ endpoint }, leg) =>
        (index.endpoints.get(endpoint)?.number ?? null) === null ? [] : [[leg, TRUNK] as const],
      ),
    );
    return recordOfCall({
      id,
      startMs,
      call: { from: call.from, to, at: call.at },
      trace,
      settledMs: trace.outcome.atMs,
      overMs: trace.outcome.atMs + (trace.outcome.kind === 'mailbox' ? Math.min(40_000, talkMs) : talkMs),
      trunks: carried,
      answeredMs: new Map(
        details.flatMap(({ confirmFromMs }, leg) =>
          confirmFromMs === null ? [] : [[leg, confirmFromMs] as const],
        ),
      ),
      around: trace.path.some((step) => 'menu' in step) ? presses : {},
    });
  };
}

/** Some are called far more than others. @param isLate of late it is known who sat at which seat: left out here */
function calledNumber(random: Random, { estate }: EstateIndex, isLate: boolean): string {
  const draw = random();
  if (draw < 0.1) return estate.menus[0]?.extension ?? '4000';
  const groups = estate.groups.filter(({ members }) => !isLate || !members.some((each) => 'seat' in each));
  if (draw < 0.24) return pick(random, groups).extension;
  if (draw < 0.36) return estate.people.find(({ id }) => id === RECEPTION)?.lines[0]?.extension ?? '4000';
  if (draw < 0.4) return estate.people.find(({ id }) => id === ON_LEAVE)?.lines[0]?.extension ?? '4101';
  // The first ones of the list have the more calls.
  const nth = Math.floor(estate.people.length * random() ** 2);
  return estate.people[nth]?.lines[0]?.extension ?? '4000';
}

function callerOf(random: Random, { estate }: EstateIndex): string | null {
  const draw = random();
  if (draw < 0.06) return null;
  if (draw < 0.3) return pick(random, estate.people).lines[0]?.extension ?? null;
  const area = pick(random, ['604', '250', '778', '236']);
  // 555-0100 to 555-0199 are kept for examples.
  return `+1${area}55501${String(Math.floor(random() * 100)).padStart(2, '0')}`;
}

/** A number of a person’s own between 0 and 1, the same for the same words. */
const habit = new Map<string, number>();
function own(id: string, what: string): number {
  const key = `${id} ${what}`;
  const known = habit.get(key);
  if (known !== undefined) return known;
  const drawn = numberOf(key) / 2 ** 32;
  habit.set(key, drawn);
  return drawn;
}

/** How a phone does in a call that comes now. */
function habitOf(
  random: Random,
  { owner, number, endpoint }: KnownEndpoint,
  isWork: boolean,
  startMs: number,
  quicker: DemoPast['wrong']['quicker'],
): EndpointBehaviour {
  const person = owner?.id ?? endpoint.id;
  const quick = 3500 + 9000 * own(person, 'answers');
  if (number !== null) {
    const prefix = number.slice(0, 5);
    const setupMs = around(random, SETUP_MS[prefix] ?? 4500, 0.18);
    const pickUp =
      prefix === quicker.prefix && startMs >= quicker.sinceMs
        ? QUICKER_MS
        : (PICK_UP_MS[prefix] ?? endpointTimes(endpoint).mailboxAfterMs ?? 25_000);
    const mailboxAfterMs = around(random, pickUp, 0.02);
    const isOff = random() < 0.03 + 0.08 * own(person, 'off');
    if (isOff) return { state: 'off', offAnswerMs: around(random, 1700, 0.2) };
    const answers = random() < (isWork ? 0.35 : 0.2) + 0.35 * own(person, 'mobile');
    return {
      state: 'ready',
      setupMs,
      mailboxAfterMs,
      answerAfterMs: answers ? around(random, quick, 0.45) : null,
    };
  }
  const isThere = isWork ? random() < 0.35 + 0.5 * own(person, 'desk') : random() < 0.06;
  if (endpoint.kind !== 'desk' && random() < 0.07) return { state: 'unregistered' };
  return { state: 'ready', answerAfterMs: isThere ? around(random, quick, 0.5) : null };
}

/** How the phones do in a call that comes now: each is drawn once the call asks for it, by itself. */
function habits(
  seed: number,
  index: EstateIndex,
  startMs: number,
  { forgotten, quicker }: DemoPast['wrong'],
): Record<string, EndpointBehaviour> {
  const hour = DateTime.fromMillis(startMs, { zone: zoneNamed(index.estate.timeZone) }).hour;
  const isWork = hour >= 7 && hour < 18;
  const isForgotten = startMs >= forgotten.fromMs && startMs < forgotten.toMs;
  const draw = (drawn: Record<string, EndpointBehaviour>, id: string | symbol): void => {
    const known = typeof id === 'string' && !Object.hasOwn(drawn, id) ? index.endpoints.get(id) : undefined;
    if (!known || typeof id !== 'string') return;
    drawn[id] =
      isForgotten && id === forgotten.endpoint
        ? { state: 'unregistered' }
        : habitOf(seeded(seed ^ numberOf(id)), known, isWork, startMs, quicker);
  };
  return new Proxy<Record<string, EndpointBehaviour>>(
    {},
    {
      get: (drawn, id) => {
        draw(drawn, id);
        return Reflect.get(drawn, id) as unknown;
      },
      getOwnPropertyDescriptor: (drawn, id) => {
        draw(drawn, id);
        return Reflect.getOwnPropertyDescriptor(drawn, id);
      },
    },
  );
}
