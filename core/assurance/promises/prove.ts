import {
  memberId,
  type Estate,
  type Group,
  type Line,
  type Member,
  type Ms,
  type Person,
} from '../../estate';
import {
  compileEstate,
  rankOf,
  runInDetail,
  type Call,
  type DetailedRun,
  type EstateIndex,
} from '../../calls/engine';
import { scheduleClock, untilClock, untilClockId, type ScheduleClock } from '../../calls/time';
import { caseRunner } from './cases';
import { FIRST } from './circumstances';
import { judgeOf, type Judge } from './judge';
import { momentsOf, nextMoment, type Moments } from './moments';
import { reachableIn } from './reachable';
import { SEAT_MEMBER, seatPhones } from './seats';
import type { Breach, Proof, ProofRun, ProofScope, ReachPromise } from './types';

const WEEKS_53_MS: Ms = 53 * 7 * 86_400_000;
const MOST_RUNS = 200_000;

/** How little a call needs to show something: what is done in it, then how late it ends. */
const size = (call: Call, run: DetailedRun): number => {
  const { endpoints = {}, presses = {}, activeCalls = {}, code } = call.world ?? {};
  const behaviours = Object.values(endpoints).reduce((sum, does) => sum + Object.keys(does).length, 0);
  const seats = Object.values(call.world?.seats ?? {}).filter(({ state, calls }) => state ?? calls).length;
  const given =
    behaviours + seats + Object.keys(presses).length + Object.keys(activeCalls).length + (code ? 1 : 0);
  const odd = (call.from === FIRST.from ? 0 : 1) + (call.arrival === undefined ? 0 : 1);
  return (given + odd) * 1e6 + run.trace.outcome.atMs / 1000;
};

interface Watch {
  readonly promise: ReachPromise;
  judge: Judge;
  worst: { readonly breach: Breach; readonly size: number } | null;
}

/** Promises whose carriers' times may differ as much, gone through in one. */
function proveTogether(
  slice: Estate,
  personId: string,
  promises: readonly ReachPromise[],
  scope: ProofScope,
): ProofRun {
  const person = slice.people.find((each) => each.id === personId);
  if (!person || person.lines.length === 0) return { proofs: [], cases: 0, complete: true };
  const watches: Watch[] = promises.map((promise) => ({ promise, judge: () => null, worst: null }));
  let cases = 0;
  let runs = 0;
  let complete = true;
  for (const status of scope.everyStatus ? statusesOf(person) : [person.status]) {
    const asIf = {
      ...slice,
      people: slice.people.map((each) => (each.id === personId ? { ...each, status } : each)),
    };
    const index = compileEstate(asIf);
    for (const watch of watches) watch.judge = judgeOf(watch.promise, index, index.people.get(personId)!);
    for (const { extension } of distinctLines(person)) {
      const ran = proveAt(
        index,
        personId,
        extension,
        status,
        watches,
        scope,
        (scope.mostRuns ?? MOST_RUNS) - runs,
      );
      cases += ran.cases;
      runs += ran.runs;
      complete &&= ran.complete;
    }
  }
  return {
    cases,
    complete,
    proofs: watches.map(({ promise, worst }): Proof => {
      const broken = worst?.breach ?? null;
      return { promise, holds: broken === null, broken: broken && withoutIdle(broken) };
    }),
  };
}

/** How far carriers' times may lie from those of the estate while a promise is proved. */
export const spreadFor = (promise: ReachPromise, scope: ProofScope): number =>
  Math.max(scope.spread, promise.kind === 'no-carrier-voicemail' ? (promise.spread ?? 0) : 0);

/**
 * Proves promises of one person, or finds the smallest call that breaks each, by going through all cases: every kind
 * of moment in the 53 weeks to come, every kind of caller and arrival that a plan tells apart, keys and codes given
 * and not, people engaged and not, and all that phones can do (`caseRunner`).
 * @param slice what calls for the person can come to, from `sliceFor`
 */
export function provePromises(
  slice: Estate,
  personId: string,
  promises: readonly ReachPromise[],
  scope: ProofScope,
): ProofRun {
  const spreads = [...new Set(promises.map((promise) => spreadFor(promise, scope)))];
  const found = new Map<ReachPromise, Proof>();
  let cases = 0;
  let complete = true;
  for (const spread of spreads) {
    const some = promises.filter((promise) => spreadFor(promise, scope) === spread);
    const run = proveTogether(slice, personId, some, { ...scope, spread });
    cases += run.cases;
    complete &&= run.complete;
    for (const proof of run.proofs) found.set(proof.promise, proof);
  }
  return { cases, complete, proofs: promises.flatMap((promise) => found.get(promise) ?? []) };
}

/** A call without whose turn it is in groups, which often makes no difference. */
function withoutTurns(call: Call): Call {
  if (!call.world?.groupLast && !call.world?.idleMs) return call;
  const { groupLast: _turns, idleMs: _idle, ...world } = call.world;
  return { ...call, world };
}

/** A call without the phones of which nothing is said. */
function withoutIdle(breach: Breach): Breach {
  const endpoints = Object.fromEntries(
    Object.entries(breach.call.world?.endpoints ?? {}).filter(([, does]) => Object.keys(does).length > 0),
  );
  return { ...breach, call: { ...breach.call, world: { ...breach.call.world, endpoints } } };
}

/** Who is in a group, and whose order makes a difference there: by rank, a seat alone at its rank has its place. */
function membersOf(group: Group | undefined): readonly string[] {
  if (!group) return [];
  const alone = (member: Member) =>
    group.mode === 'by-rank' && group.members.filter((each) => rankOf(each) === rankOf(member)).length === 1;
  return group.members
    .filter((member) => !alone(member))
    .map((member) => ('seat' in member ? `${SEAT_MEMBER}${member.seat}` : memberId(member)));
}

/** One status for each set of rules that a status can open: the one of now first. */
function statusesOf(person: Person): readonly string[] {
  const named = new Set([person.status, ...person.plan.rules.flatMap((rule) => rule.when.status ?? [])]);
  const seen = new Set<string>();
  return [...named].filter((status) => {
    const opens = person.plan.rules
      .map((rule) => (!rule.when.status || rule.when.status.includes(status) ? '1' : '0'))
      .join('');
    if (seen.has(opens)) return false;
    seen.add(opens);
    return true;
  });
}

/** One line for each way in which a line of a person can be told from the others: its forward, and the rules for it. */
function distinctLines(person: Person): readonly Line[] {
  const seen = new Set<string>();
  return person.lines.filter(({ id, forwardAll, forwardUntil }) => {
    const opens = person.plan.rules.map(({ when }) => (!when.line || when.line.includes(id) ? 1 : 0));
    const kind = JSON.stringify([opens, forwardAll, forwardUntil]);
    if (seen.has(kind)) return false;
    seen.add(kind);
    return true;
  });
}

/** What calls of one moment looked at, and what they found: where all that is the same, the cases are the same. */
interface Looked {
  readonly clock: ScheduleClock;
  readonly reads: readonly { readonly atMs: Ms; readonly inside: boolean }[];
}

function proveAt(
  index: EstateIndex,
  personId: string,
  extension: string,
  status: string,
  watches: readonly Watch[],
  scope: ProofScope,
  most: number,
): { cases: number; runs: number; complete: boolean } {
  const reachable = reachableIn(index.estate, personId);
  const untils = new Map(
    index.estate.people.flatMap((person) =>
      person.lines.flatMap((line) =>
        line.forwardUntil === undefined ? [] : [[untilClockId(line), untilClock(line.forwardUntil)] as const],
      ),
    ),
  );
  const made = new Map<string, ScheduleClock | undefined>();
  const clockNamed = (id: string): ScheduleClock | undefined => {
    if (made.has(id)) return made.get(id);
    const schedule = index.schedules.get(id);
    const clock = schedule ? scheduleClock(schedule) : untils.get(id);
    made.set(id, clock);
    return clock;
  };
  const clockOf = (id: string): ScheduleClock[] => {
    const clock = clockNamed(id);
    return clock ? [clock] : [];
  };
  const watched = watches.flatMap(({ promise }) =>
    promise.kind === 'only-inside' ? [promise.schedule] : [],
  );
  const clocks = [...new Set([...reachable.schedules, ...watched, ...untils.keys()])].flatMap(clockOf);
  const runner = caseRunner(index, extension, {
    spread: scope.spread,
    everything: scope.everything ?? false,
    critical: watches.flatMap(({ promise }) => (promise.kind === 'no-cut-off' ? [promise.withinMs] : [])),
    shared: reachable.shared,
    watched,
    losing: watches.some(({ promise }) => promise.kind === 'one-lost'),
    standFrom: (epochMs, begunMs) =>
      clocks.some((clock) => clock.nextChange(epochMs) <= begunMs + reachable.latestReadMs)
        ? null
        : clocks.map((clock) => (clock.inside(epochMs) ? '1' : '0')).join(''),
    inside: (id, epochMs) => clockNamed(id)?.inside(epochMs) ?? false,
    choices: {
      first: FIRST,
      reachable,
      maxCalls: (id) => index.people.get(id)?.maxCalls ?? 1,
      membersOf: (id) => membersOf(index.groups.get(id)),
      seats: seatPhones(index.estate, personId),
    },
  });
  let cases = 0;
  let runs = 0;
  let complete = true;
  const visit = (call: Call, run: DetailedRun) => {
    cases += 1;
    for (const watch of watches) {
      const broken = watch.judge(call, run);
      if (broken === null) continue;
      const found = size(call, run);
      if (watch.worst !== null && found >= watch.worst.size) continue;
      const plain = withoutTurns(call);
      const why = plain === call ? broken : (watch.judge(plain, runInDetail(index, plain, false)) ?? broken);
      watch.worst = { size: found, breach: { call: why === broken ? call : plain, status, why: why() } };
    }
  };
  const known: Looked[][] = [];
  /** Goes through the cases of a moment, unless those of another were the same; what they looked at. */
  const at = (epochMs: number): readonly Looked[] => {
    const same = known.find((looked) =>
      looked.every(({ clock, reads }) =>
        reads.every(({ atMs, inside }) => clock.inside(epochMs + atMs) === inside),
      ),
    );
    if (same) return same;
    const { schedules, runs: ran, complete: all } = runner.goThrough(epochMs, most - runs, visit);
    runs += ran;
    complete &&= all;
    const looked = [...schedules].flatMap(([id, moments]) =>
      clockOf(id).map((clock) => ({
        clock,
        reads: [...moments].map((atMs) => ({ atMs, inside: clock.inside(epochMs + atMs) })),
      })),
    );
    known.push(looked);
    return looked;
  };
  const moments: Moments = momentsOf(
    clocks,
    scope.fromMs,
    scope.fromMs + WEEKS_53_MS,
    reachable.latestReadMs,
  );
  for (const epochMs of moments.steady) if (complete) at(epochMs);
  for (const { fromMs, turns } of moments.turning)
    for (let now = fromMs; now < turns.at(-1)! && complete;) {
      const looked = at(now);
      now = Math.min(
        ...looked.map(({ reads }) =>
          nextMoment(
            now,
            reads.map((read) => read.atMs),
            turns,
          ),
        ),
        Infinity,
      );
    }
  return { cases, runs, complete };
}
