import { instantOf } from '../time';
import { runGroup, runMenu, runPerson } from './asked';
import { callerKnown, type EstateIndex } from './compile';
import { runEnding } from './endings';
import { outcomeText } from './explain';
import type { Next } from './next';
import { stop } from './stages';
import {
  AS_THE_ESTATE_HAS_IT,
  note,
  unread,
  type Asked,
  type Band,
  type LegDetail,
  type Run,
  type Seen,
  type Stop,
} from './state';
import type { Call, Trace } from './types';

/** A caller from outside, and one from inside, who stand on nobody's list. */
export const ANY_OUTSIDE_CALLER = '+0';
export const ANY_INSIDE_CALLER = '0';

function callerText(from: string | null): string {
  if (from === null) return 'with its number withheld';
  if (from === ANY_OUTSIDE_CALLER) return 'from outside';
  return from === ANY_INSIDE_CALLER ? 'from inside' : `from ${from}`;
}

function step(run: Run, next: Next): Next | Stop {
  switch (next.go) {
    case 'person':
      return runPerson(run, next.person, next.line);
    case 'group':
      return runGroup(run, next.group);
    case 'menu':
      return runMenu(run, next.menu);
    case 'ending':
      return runEnding(run, next.ending, next.owner, next.round);
  }
}

function firstStep(run: Run, to: string): Next | Stop {
  if (run.patienceMs <= 0) return stop({ kind: 'abandoned', atMs: 0 });
  const destination = run.index.destinations.get(to);
  if (!destination) return stop({ kind: 'failed', atMs: 0, reason: 'no-such-number' });
  switch (destination.kind) {
    case 'line':
      return { go: 'person', person: destination.person, line: destination.line };
    case 'group':
      return { go: 'group', group: destination.group };
    case 'menu':
      return { go: 'menu', menu: destination.menu };
  }
}

/**
 * Runs one call through an estate, from its arrival until it is answered, left as a message, or lost. The same
 * input always gives the same trace. All times are whole ms since the call arrived.
 * @param call a call that `callFaults` finds nothing wrong with
 */
export function runCall(index: EstateIndex, call: Call): Trace {
  return runInDetail(index, call).trace;
}

/** A trace with what stands behind its legs, for drawing it. */
export interface DetailedRun {
  readonly trace: Trace;
  readonly details: readonly LegDetail[];
  readonly bands: readonly Band[];
  readonly asked: Asked;
}

/**
 * Runs one call as `runCall` does, and keeps what a drawing of it needs.
 * @param told false: without events, for runs in great number
 * @param unlisted what mobiles and landlines do that the world says nothing about
 * @param seen where the call is really placed: what has happened so far, asked instead of its world
 */
export function runInDetail(
  index: EstateIndex,
  call: Call,
  told = true,
  unlisted = AS_THE_ESTATE_HAS_IT,
  seen: Seen | null = null,
): DetailedRun {
  const from = callerKnown(index, call.from);
  const run: Run = {
    told,
    index,
    ...unread(from === call.from ? call : { ...call, from }),
    startEpochMs: instantOf(call.at) ?? Number.NaN,
    patienceMs: call.patienceMs ?? Number.POSITIVE_INFINITY,
    now: 0,
    queueEndMs: Number.POSITIVE_INFINITY,
    nameRecorded: false,
    hops: 0,
    askedPeople: new Set(),
    visitedGroups: new Set(),
    visitedMenus: new Set(),
    legs: [],
    details: [],
    bands: [],
    path: [],
    events: [],
    asked: { things: new Map(), schedules: new Map() },
    unlisted,
    stages: 0,
    stageEndMs: 0,
    trunkMs: 0,
    trunkUse: new Map(),
    seen,
  };
  note(
    run,
    'arrives',
    () =>
      `A call ${callerText(call.from)}${from === call.from ? '' : `, known as ${from},`} arrives for ${call.to}.`,
  );
  let next = firstStep(run, call.to);
  while (!('stop' in next)) next = step(run, next);
  const outcome = next.stop;
  note(run, 'outcome', () => outcomeText(index, outcome));
  const { legs, events, path, trunkMs, details, bands, asked } = run;
  return { trace: { outcome, legs, events, path, trunkMs }, details, bands, asked };
}
