import { classifier, wayOut, type NoWayOut } from '../../calls/dialling';
import { finderIn, sliceFor } from '../../editing';
import type { Estate, Permission, Person, Trunk } from '../../estate';
import { momentsOf } from '../promises';
import { ANY_OUTSIDE_CALLER, compileEstate, takeOver, type PersonChange } from '../../calls/engine';
import { quickRunner, type QuickRunner } from '../../calls/outcome';
import type { Behind } from '../../changes/restarts';
import { schedulesOf } from '../impact';
import { isoIn, scheduleClock, type ScheduleClock } from '../../calls/time';
import { keepParts } from './parts';
import type { CheckContext, Ended, Keep } from './types';

const YEAR_MS = 53 * 7 * 24 * 3_600_000;
const HALF_HOUR_MS = 1_800_000;
const FEW = 40;

function kept<K, V>(make: (key: K) => V): (key: K) => V {
  const known = new Map<K, V>();
  return (key) => {
    if (!known.has(key)) known.set(key, make(key));
    return known.get(key)!;
  };
}

const isSameAs = (a: readonly unknown[], b: readonly unknown[]): boolean =>
  a.length === b.length && a.every((each, i) => each === b[i]);
function keeping(): Keep {
  const known = new Map<string, { readonly of: readonly unknown[]; readonly value: unknown }>();
  return <T>(what: string, of: readonly unknown[], make: () => T): T => {
    const before = known.get(what);
    if (before && isSameAs(before.of, of)) return before.value as T;
    const value = make();
    known.set(what, { of, value });
    return value;
  };
}

/** Which statuses mean that somebody has left: those that promises name as such, or the one with the id `left`. */
export function leaverStatuses({ promises }: Estate): ReadonlySet<string> {
  const named = (promises ?? []).flatMap(({ promise }) =>
    promise.kind === 'no-leaver' ? [promise.status] : [],
  );
  return new Set(named.length > 0 ? named : ['left']);
}

/** How a context follows another. */
interface Followed {
  readonly before: CheckContext;
  readonly changed: readonly PersonChange[];
  /** The ids of all people in whom something else can be found now. */
  readonly touched: readonly string[];
}

/**
 * What checks of an estate look at.
 * @param behind phones that run something else than they should, where that is known
 * @param nowMs from when on the moments of a year are looked at, ms since 1970
 * @param after of an estate that some people alone make another: the context of before, which is not used any more
 */
export function checkContext(
  estate: Estate,
  nowMs: number,
  behind: readonly Behind[] = [],
  after: Followed | null = null,
): CheckContext {
  const index = after
    ? takeOver(after.before.index, estate, after.changed)
    : { ...compileEstate(estate), classOf: classifier(estate.dialling) };
  const { classOf } = index;
  const keep = after?.before.keep ?? keeping();
  const { parts, partsMark, groupParts, follow } = after?.before ?? keepParts(estate.people);
  if (after) follow(estate.people, after.touched);
  const finder = finderIn(index);
  const left = leaverStatuses(estate);
  const fromMs = Math.floor(nowMs / HALF_HOUR_MS) * HALF_HOUR_MS;
  let whole: QuickRunner | null = null;
  let asked = 0;

  const clock = kept((id: string): ScheduleClock | null => {
    const schedule = index.schedules.get(id);
    return schedule ? scheduleClock(schedule) : null;
  });
  const momentsBy = kept((key: string): readonly { readonly epochMs: number; readonly at: string }[] =>
    momentsOf(
      key.split(' ').flatMap((id) => clock(id) ?? []),
      fromMs,
      fromMs + YEAR_MS,
      0,
    ).steady.map((epochMs) => ({ epochMs, at: isoIn(epochMs, estate.timeZone) })),
  );
  const wayOutOf = kept((key: string): NoWayOut | null => {
    const [id = '', e164 = ''] = key.split(' ');
    const hasChannels = ({ channels }: Trunk) => channels > 0;
    const way = wayOut(index.permissions.get(id), e164, classOf(e164), estate.trunks, hasChannels);
    return 'trunk' in way ? null : way.reason;
  });
  const unanswered = kept((person: Person): readonly Ended[] => {
    const to = person.lines[0]?.extension;
    if (to === undefined) return [];
    const slice = sliceFor(estate, finder, person.id);
    const schedules = schedulesOf([slice]);
    asked += 1;
    // For a few people their own parts of the estate are made ready sooner than all of it.
    if (asked > FEW) whole ??= quickRunner(index);
    const part = whole ? null : { ...compileEstate(slice), classOf };
    const runner = whole ?? quickRunner(part!);
    const people = part ? slice.people : estate.people;
    return momentsBy([...schedules].sort().join(' ')).map(({ epochMs, at }) => {
      const result = runner.run(ANY_OUTSIDE_CALLER, to, epochMs);
      return {
        call: { from: ANY_OUTSIDE_CALLER, to, at },
        kind: result.kind,
        reason: result.kind === 'failed' ? result.reason : '',
        atMs: result.atMs,
        person: people[result.person]?.id ?? null,
      };
    });
  });
  return {
    estate,
    index,
    finder,
    nowMs,
    classOf,
    noWayOut: (permission: Permission | undefined, e164) => wayOutOf(`${permission?.id ?? ''} ${e164}`),
    permission: (id) => index.permissions.get(id),
    clock,
    owner: finder.ownerOf,
    endpoint: (id) => index.endpoints.get(id)?.endpoint,
    lineScores: index.lineScores,
    behind,
    hasLeft: (person) => left.has(person.status),
    unanswered,
    keep,
    parts,
    partsMark,
    groupParts,
    follow,
  };
}
