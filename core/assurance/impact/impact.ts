import type { Estate, Person } from '../../estate';
import type { Finder } from '../../editing';
import { compileEstate, type Outcome } from '../../calls/engine';
import { quickRunner, type QuickRunner } from '../../calls/outcome';
import { momentsOf } from '../promises';
import { isoIn, scheduleClock, untilClock, type ScheduleClock } from '../../calls/time';
import { classifier, type Classified } from '../../calls/dialling';
import { extensionOwners, sliceAt, type Start } from '../../changes/slate';
import { callersOf, casesOf, schedulesOf, statusesOf, type ImpactCase } from './cases';
import type { Change, End, Times } from './types';

/** Two versions of an estate, made ready for asking what differs. */
export interface Versions {
  readonly before: Side;
  readonly after: Side;
  /** From when on the moments of a year are looked at, ms since 1970. */
  readonly fromMs: number;
  readonly moments: Map<string, readonly Moment[]>;
}
interface Side {
  readonly estate: Estate;
  readonly finder: Finder;
  readonly classOf: (e164: string) => Classified;
  /** Whose each extension is. */
  readonly owners: ReadonlyMap<string, Start>;
}
interface Moment {
  readonly atMs: number;
  /** The schedules that are inside. */
  readonly inside: ReadonlySet<string>;
}

const YEAR_MS = 53 * 7 * 24 * 3_600_000;
const TELLS_MS = 1000;

const sideOf = (given: { readonly estate: Estate; readonly finder: Finder }): Side => ({
  ...given,
  classOf: classifier(given.estate.dialling),
  owners: extensionOwners(given.estate),
});

/** @param finders of both estates */
export const versionsOf = (
  before: { readonly estate: Estate; readonly finder: Finder },
  after: { readonly estate: Estate; readonly finder: Finder },
  fromMs: number,
): Versions => ({
  before: sideOf(before),
  after: sideOf(after),
  fromMs,
  moments: new Map(),
});

/** The moments of a year that can differ, by how the schedules of both versions stand. */
function momentsFor(
  versions: Versions,
  ids: ReadonlySet<string>,
  until: ReadonlySet<string>,
): readonly Moment[] {
  const key = [...ids, ...until].sort().join(' ');
  const known = versions.moments.get(key);
  if (known) return known;
  const { fromMs } = versions;
  const sides = [versions.before, versions.after];
  const named = [...ids].flatMap((id) =>
    sides.flatMap(({ estate }) => {
      const schedule = estate.schedules.find((each) => each.id === id);
      return schedule ? [{ id, clock: scheduleClock(schedule) }] : [];
    }),
  );
  const clocks: ScheduleClock[] = [...named.map(({ clock }) => clock), ...[...until].map(untilClock)];
  const moments = momentsOf(clocks, fromMs, fromMs + YEAR_MS, 0).steady.map((atMs) => ({
    atMs,
    inside: new Set(named.filter(({ clock }) => clock.inside(atMs)).map(({ id }) => id)),
  }));
  versions.moments.set(key, moments);
  return moments;
}

const withStatus = (slice: Estate, id: string, status: string | null): Estate =>
  status === null
    ? slice
    : { ...slice, people: slice.people.map((each) => (each.id === id ? { ...each, status } : each)) };

const runnerOf = (slice: Estate, { classOf }: Side): QuickRunner =>
  quickRunner({ ...compileEstate(slice), classOf });

function endOf(outcome: Outcome, own: string): End {
  const who = 'person' in outcome ? (outcome.person ?? null) : null;
  return {
    kind: outcome.kind,
    who: who === own ? 'own' : who,
    detail:
      outcome.kind === 'failed'
        ? outcome.reason
        : outcome.kind === 'hung-up'
          ? outcome.message
          : who === null && 'endpoint' in outcome
            ? outcome.endpoint
            : '',
  };
}

const sameEnd = (a: End, b: End) => a.kind === b.kind && a.who === b.who && a.detail === b.detail;

function timesOf(shown: ReadonlySet<Moment>, all: readonly Moment[]): Times {
  if (shown.size === all.length) return { kind: 'any' };
  const ids = new Set(all.flatMap(({ inside }) => [...inside]));
  for (const schedule of ids)
    for (const kind of ['inside', 'outside'] as const)
      if (all.every((each) => shown.has(each) === (each.inside.has(schedule) === (kind === 'inside'))))
        return { kind, schedule };
  return { kind: 'some' };
}

/** An extension by which calls come in, before and after. */
type Way = readonly [before: string, after: string];

/**
 * The extensions of a start, each line of a person beside itself in the other version; a line that is in one alone is
 * called by its extension in both.
 */
function waysIn(before: Side, after: Side, { kind, id }: Start): readonly Way[] {
  if (kind !== 'person') {
    const extension = ({ finder }: Side) =>
      (kind === 'group' ? finder.group(id) : finder.menu(id))?.extension;
    const [was, is] = [extension(before), extension(after)];
    return was === undefined && is === undefined ? [] : [[was ?? is!, is ?? was!]];
  }
  const linesOf = ({ finder }: Side) =>
    new Map(finder.person(id)?.lines.map((line) => [line.id, line.extension]) ?? []);
  const [was, is] = [linesOf(before), linesOf(after)];
  return [...new Set([...is.keys(), ...was.keys()])].map((line) => [
    was.get(line) ?? is.get(line)!,
    is.get(line) ?? was.get(line)!,
  ]);
}

/** For groups, each member's phones answering; for menus, what the caller presses. */
function casesFor(start: Start, people: readonly Person[], slices: readonly Estate[]): readonly ImpactCase[] {
  if (start.kind === 'person') return casesOf(people, slices);
  const plain = casesOf([], slices);
  if (start.kind === 'menu') return plain;
  const members = new Map(
    slices
      .flatMap((slice) =>
        slice.groups
          .filter(({ id }) => id === start.id)
          .flatMap((group) => group.members.flatMap((member) => ('person' in member ? [member.person] : []))),
      )
      .map((id) => [id, slices.flatMap(({ people: all }) => all.filter((each) => each.id === id))] as const),
  );
  const answers = [...members].map(([id, versions]): ImpactCase => ({
    kind: 'answers',
    at: id,
    world: {
      endpoints: Object.fromEntries(
        versions.flatMap(({ endpoints }) => endpoints.map((each) => [each.id, { answerAfterMs: 4000 }])),
      ),
    },
  }));
  return [...plain, ...answers];
}

interface FoundChange {
  readonly change: Omit<Change, 'times' | 'callers'>;
  readonly moments: Set<Moment>;
  readonly callers: Set<string>;
}

/**
 * How calls to one person, group or menu end differently in the second version: over the ways in which schedules
 * stand in a year, who calls, the person's statuses that rules ask for, and what phones and caller do, for each line.
 */
export function changesOf(versions: Versions, start: Start): readonly Change[] {
  const ways = waysIn(versions.before, versions.after, start);
  return ways.flatMap((way) => changesAt(versions, start, way, ways.length > 1));
}

function changesAt(
  versions: Versions,
  start: Start,
  extensions: Way,
  isOneOfSeveral: boolean,
): readonly Change[] {
  const { before, after } = versions;
  const slices = [before, after].map((side, i) => {
    const owner = side.owners.get(extensions[i]!);
    return owner ? sliceAt(side.estate, side.finder, owner) : null;
  });
  const name = nameOf(after, start) ?? nameOf(before, start) ?? start.id;
  const there = slices.filter((slice) => slice !== null);
  const [first] = there;
  if (!first) return [];
  const people = there.flatMap((slice) =>
    start.kind === 'person' ? slice.people.filter(({ id }) => id === start.id) : [],
  );
  const until = new Set(
    there.flatMap(({ people: all }) =>
      all.flatMap(({ lines }) => lines.flatMap((line) => line.forwardUntil ?? [])),
    ),
  );
  const moments = momentsFor(versions, schedulesOf(there), until);
  const callers = callersOf(there);
  const cases = casesFor(start, people, there);
  const statuses: (string | null)[] = [null, ...statusesOf(people).slice(1)];
  const found = new Map<string, FoundChange>();

  for (const status of statuses) {
    const runners = [before, after].map((side, i) => {
      const slice = slices[i];
      return slice ? runnerOf(withStatus(slice, start.id, status), side) : null;
    });
    for (const moment of moments) {
      const at = isoIn(moment.atMs, after.estate.timeZone);
      for (const caller of callers)
        for (const each of cases) {
          const outcomes = runners.map((runner, i): Outcome => {
            if (!runner) return { kind: 'failed', atMs: 0, reason: 'no-such-number' };
            return runner.outcomeOf({ from: caller.from, to: extensions[i]!, at, world: each.world });
          });
          const [from, to] = [endOf(outcomes[0]!, start.id), endOf(outcomes[1]!, start.id)];
          const same = sameEnd(from, to);
          const laterMs = same ? outcomes[1]!.atMs - outcomes[0]!.atMs : 0;
          if (same && Math.abs(laterMs) < TELLS_MS) continue;
          // What an unanswered call shows already is not said again of each way in which it can stay unanswered.
          const says = `${JSON.stringify([from, to])} ${Math.sign(laterMs)}`;
          const key = [each.kind, each.at, status, says].join(' ');
          const plain = [cases[0]!.kind, cases[0]!.at, status, says].join(' ');
          const plainer = [each.kind, each.at, null, says].join(' ');
          const shown = found.get(key);
          if (shown) {
            shown.moments.add(moment);
            shown.callers.add(caller.kind);
            continue;
          }
          if ((key !== plain && found.has(plain)) || (status !== null && found.has(plainer))) continue;
          found.set(key, {
            change: {
              start,
              name,
              caseKind: each.kind,
              at: each.at,
              status,
              line: isOneOfSeveral ? extensions[1] : null,
              from,
              to,
              laterMs,
              call: { from: caller.from, to: extensions[1], at, world: each.world },
            },
            moments: new Set([moment]),
            callers: new Set([caller.kind]),
          });
        }
    }
  }
  return [...found.values()].map(({ change, moments: shown, callers: who }): Change => ({
    ...change,
    times: timesOf(shown, moments),
    callers:
      who.size === new Set(callers.map(({ kind }) => kind)).size
        ? 'any'
        : who.size === 1
          ? ([...who][0] as Change['callers'])
          : 'any',
  }));
}

const nameOf = ({ finder }: Side, { kind, id }: Start): string | undefined =>
  (kind === 'person' ? finder.person(id) : kind === 'group' ? finder.group(id) : finder.menu(id))?.name;
