import type {
  CarriersPage,
  CostPage,
  LongWork,
  SlateCallsPage,
  TimesAsked,
  TimesPage,
  TrafficPage,
} from '../../api/records';
import { outcomeText } from '../../core/calls/engine';
import type { SlateEntry } from '../../core/changes/slate';
import {
  addedEffects,
  carrierPrefix,
  FEW_ANSWERS,
  gainOf,
  proposedTimes,
  shareAt,
  timeForShare,
  withMeasuredTimes,
  type RecordsEffect,
  type Tariff,
} from '../../core/records';
import type { CurveStep } from '../../core/statistics';
import { refusal, sharedJson } from '../base';
import { calledAt } from '../collected';
import type { LiveEstate } from '../estate';
import type { Services } from '../http';
import type { CallsResults } from './tasks';
import { callsIn, longWork, ofCalls, partsOfSpan } from './work';

export const DAY_MS = 86_400_000;
const MOST_STEPS = 240;
const LATEST_MS = 60_000;

/** The span that is asked about: so many days up to now. */
export function span(
  { now }: Pick<Services, 'now'>,
  days: number,
): { readonly fromMs: number; readonly toMs: number } {
  const toMs = now().getTime();
  return { fromMs: toMs - days * DAY_MS, toMs };
}
/** Within a minute the same question has the same answer. */
const minuteOf = (ms: number) => Math.floor(ms / 60_000);

/** Estates as threads share them: the same one is put into memory once. */
const sharedOf = new WeakMap<LiveEstate, SharedArrayBuffer>();
function shared(live: LiveEstate): SharedArrayBuffer {
  const known = sharedOf.get(live);
  if (known) return known;
  // What a call does not come to is left out.
  const { routing: _routing, ...estate } = live.estate;
  const made = sharedJson(estate);
  sharedOf.set(live, made);
  return made;
}

/** Few enough steps to be drawn: evenly over those there are, the last one always. */
function thinned(curve: readonly CurveStep[]): TimesPage['curve'] {
  const every = Math.max(1, Math.ceil(curve.length / MOST_STEPS));
  return curve
    .filter((_, n) => n % every === 0 || n === curve.length - 1)
    .map(({ atMs, atRisk, share, low, high }) => ({ atMs, atRisk, share, low, high }));
}

function timesPage({ n, answered, curve }: CallsResults['times']): TimesPage {
  const steps = Array.from({ length: 8 }, (_, at) => (at + 1) * 5000);
  return {
    n,
    answered,
    curve: thinned(curve.filter(({ atMs }) => atMs <= LATEST_MS)),
    gains: steps.map((fromMs) => ({
      fromMs,
      toMs: fromMs + 5000,
      share0: shareAt(curve, fromMs),
      ...gainOf(curve, fromMs, fromMs + 5000),
    })),
    shares: [0.5, 0.8, 0.9, 0.95].map((share) => ({ share, atMs: timeForShare(curve, share) })),
    isFew: answered < FEW_ANSWERS,
  };
}

export async function timesWork(services: Services, asked: TimesAsked): Promise<LongWork<TimesPage>> {
  const { db, store } = services;
  const { index, estate, finder } = await store.current();
  const { fromMs, toMs } = span(services, asked.days);
  const person = asked.person === undefined ? undefined : finder.person(asked.person);
  const group = asked.group === undefined ? undefined : index.groups.get(asked.group);
  if ((asked.person !== undefined && !person) || (asked.group !== undefined && !group))
    throw refusal(404, 'There is nobody, and no group, of that name.');
  const phones = person?.endpoints ?? estate.people.flatMap(({ endpoints }) => endpoints);
  const endpoints =
    person || asked.phone !== undefined
      ? phones.filter(({ kind }) => asked.phone === undefined || kind === asked.phone).map(({ id }) => id)
      : null;
  const hours =
    asked.fromHour !== undefined && asked.toHour !== undefined && asked.fromHour !== asked.toHour
      ? ([asked.fromHour, asked.toHour] as const)
      : null;
  return longWork(db, `times ${JSON.stringify(asked)} ${minuteOf(toMs)}`, toMs, async (tell) => {
    tell(0, await callsIn(db, fromMs, toMs));
    return timesPage(
      await ofCalls(db, 'times', {
        fromMs,
        toMs,
        endpoints,
        to: group ? [group.extension, ...(group.numbers ?? [])] : null,
        hours,
        timeZone: estate.timeZone,
      }),
    );
  });
}

export async function carriersWork(services: Services, days: number): Promise<LongWork<CarriersPage>> {
  const { db, store } = services;
  const live = await store.current();
  const { fromMs, toMs } = span(services, days);
  return longWork(db, `carriers ${days} ${live.revision} ${minuteOf(toMs)}`, toMs, async (tell) => {
    tell(0, await callsIn(db, fromMs, toMs));
    const seen = await ofCalls(db, 'carriers', { fromMs, toMs, estate: shared(live) });
    const { people } = live.estate;
    return {
      carriers: seen.map((carrier) => {
        const proposed = proposedTimes(carrier);
        const { prefix } = carrier;
        const has = (endpoint: { readonly number?: string }) =>
          endpoint.number !== undefined && carrierPrefix(endpoint.number) === prefix;
        return {
          ...carrier,
          proposed,
          phones: people.reduce((sum, { endpoints }) => sum + endpoints.filter(has).length, 0),
          differ: people.reduce((sum, person) => {
            const changed = withMeasuredTimes(person, prefix, proposed);
            const differ = changed?.endpoints.filter((endpoint, n) => endpoint !== person.endpoints[n]);
            return sum + (differ?.length ?? 0);
          }, 0),
        };
      }),
    };
  });
}

/** What a slate would change so that a carrier’s times are as they were measured. */
export async function carrierEntries(
  services: Services,
  prefix: string,
  days: number,
): Promise<readonly SlateEntry[]> {
  const { db, store } = services;
  const live = await store.current();
  const { fromMs, toMs } = span(services, days);
  const seen = await ofCalls(db, 'carriers', { fromMs, toMs, estate: shared(live) });
  const carrier = seen.find((each) => each.prefix === prefix);
  if (!carrier) throw refusal(404, 'No call to this carrier is kept.');
  const proposed = proposedTimes(carrier);
  return live.estate.people.flatMap((person) => {
    const after = withMeasuredTimes(person, prefix, proposed);
    return after
      ? [{ kind: 'person', id: person.id, name: person.name, base: person, after } satisfies SlateEntry]
      : [];
  });
}

export async function trafficWork(
  services: Services,
  days: number,
  slate: { readonly id: number; readonly version: number; readonly entries: readonly SlateEntry[] } | null,
): Promise<LongWork<TrafficPage>> {
  const { db, store } = services;
  const live = await store.current();
  const { fromMs, toMs } = span(services, days);
  const key = `traffic ${days} ${slate?.id}/${slate?.version} ${live.revision} ${minuteOf(toMs)}`;
  return longWork(db, key, toMs, async (tell) => {
    tell(0, await callsIn(db, fromMs, toMs));
    const entries = slate?.entries ?? null;
    const { now, added } = await ofCalls(db, 'traffic', {
      fromMs,
      toMs,
      estate: shared(live),
      entries,
    });
    const nameOf = (id: string) => live.estate.trunks.find((trunk) => trunk.id === id)?.name ?? id;
    return {
      trunks: now.map((trunk) => ({ ...trunk, name: nameOf(trunk.trunk) })),
      slate: added?.map(({ trunk, byDay }) => ({ trunk: nameOf(trunk), added: byDay })) ?? null,
    };
  });
}

export async function costWork(
  services: Services,
  days: number,
  tariff: { readonly id: number; readonly tariff: Tariff },
): Promise<LongWork<CostPage>> {
  const { db, store } = services;
  const live = await store.current();
  const { fromMs, toMs } = span(services, days);
  return longWork(db, `cost ${days} ${tariff.id} ${live.revision} ${minuteOf(toMs)}`, toMs, async (tell) => {
    tell(0, await callsIn(db, fromMs, toMs));
    const task = { fromMs, toMs, estate: shared(live), tariff: tariff.tariff };
    const { cost, people } = await ofCalls(db, 'cost', task);
    return {
      currency: cost.currency,
      total: cost.total,
      numbers: cost.byNumber.slice(0, 20),
      people: people
        .slice(0, 20)
        .map((each) => ({ ...each, name: live.finder.person(each.person)?.name ?? each.person })),
      unpriced: cost.unpriced.slice(0, 100),
      days,
    };
  });
}

/** What a slate makes of the calls of the last days. */
export async function slateCallsWork(
  services: Services,
  days: number,
  slate: { readonly id: number; readonly version: number; readonly entries: readonly SlateEntry[] },
): Promise<LongWork<SlateCallsPage>> {
  const { db, store } = services;
  const live = await store.current();
  const { fromMs, toMs } = span(services, days);
  const key = `slate ${slate.id}/${slate.version} ${days} ${live.revision} ${minuteOf(toMs)}`;
  return longWork(db, key, toMs, async (tell) => {
    const beganMs = performance.now();
    const total = await callsIn(db, fromMs, toMs);
    tell(0, total);
    const estate = shared(live);
    const parts: RecordsEffect[] = [];
    await Promise.all(
      partsOfSpan(fromMs, toMs, total).map(async ([from, to]) => {
        parts.push(await ofCalls(db, 'effect', { fromMs: from, toMs: to, estate, entries: slate.entries }));
        tell(
          parts.reduce((sum, { calls }) => sum + calls, 0),
          total,
        );
      }),
    );
    return slateCallsPage(live, addedEffects(parts), Math.round(performance.now() - beganMs));
  });
}

function slateCallsPage({ index }: LiveEstate, effect: RecordsEffect, tookMs: number): SlateCallsPage {
  const numbers = [...new Set([...effect.people, ...effect.some].map(({ to }) => to))];
  return {
    ...effect,
    people: effect.people.slice(0, 200),
    names: Object.fromEntries(numbers.map((to) => [to, calledAt(index, to) ?? { name: to, person: null }])),
    says: Object.fromEntries(
      effect.some.map(({ id, before, after }) => [
        id,
        { before: outcomeText(index, before), after: outcomeText(index, after) },
      ]),
    ),
    tookMs,
  };
}

const SIGN_DAYS = 28;
/** Blocked more often than one call in a hundred. */
const TOO_OFTEN = 0.01;
/** What the calls of the last weeks say that somebody should see: a carrier that changed, a trunk that is too small. */
export async function signsOf(
  services: Pick<Services, 'db' | 'store' | 'now'>,
): Promise<readonly { readonly says: string; readonly href: string }[]> {
  const { db, store } = services;
  const live = await store.current();
  const { fromMs, toMs } = span(services, SIGN_DAYS);
  const estate = shared(live);
  const { people } = live.estate;
  const carriers = await ofCalls(db, 'carriers', { fromMs, toMs, estate });
  const { now: trunks } = await ofCalls(db, 'traffic', { fromMs, toMs, estate, entries: null });
  const changed = carriers.filter((carrier) => {
    const isChanged = [carrier.setup, carrier.offAnswer, carrier.pickUp].some(
      (measured) => measured?.changed,
    );
    const proposed = proposedTimes(carrier);
    return isChanged && people.some((person) => withMeasuredTimes(person, carrier.prefix, proposed) !== null);
  });
  const small = trunks.filter(({ blockedNow }) => blockedNow > TOO_OFTEN);
  const nameOf = (id: string) => live.estate.trunks.find((trunk) => trunk.id === id)?.name ?? id;
  return [
    ...changed.map(({ prefix }) => ({
      says: `The carrier of ${prefix}… takes calls at other times than are set`,
      href: '/calls/carriers',
    })),
    ...small.map(({ trunk, channelsForOne }) => ({
      says: `${nameOf(trunk)} is too small for its busiest hour: ${channelsForOne ?? 'more than 10,000'} channels are needed`,
      href: '/calls/traffic',
    })),
  ];
}
