import {
  type Ending,
  type Group,
  type Line,
  type Menu,
  type Ms,
  type Person,
  type SimpleEnding,
} from '../estate';
import { instantOf } from '../time';
import { callerHolds, chooseTreatment, scheduleHolds } from './choose';
import { knownEndpoint, type EstateIndex } from './compile';
import { endingText, outcomeText } from './explain';
import { ringStage } from './ring';
import type { PlannedTarget } from './leg';
import {
  activeCallsOf,
  AS_THE_ESTATE_HAS_IT,
  ask,
  askSchedule,
  band,
  type Asked,
  epochNow,
  note,
  payerOf,
  seconds,
  waitUntil,
  type Payer,
  type Band,
  type LegDetail,
  type Run,
  type Seen,
  type Stop,
} from './state';
import type { Call, Trace } from './types';

import { forwardOf, groupRound } from './group-round';
import { pressIn, runStages, stop, type StagesResult } from './stages';

/** A caller from outside, and one from inside, who stand on nobody's list. */
export const ANY_OUTSIDE_CALLER = '+0';
export const ANY_INSIDE_CALLER = '0';

function callerText(from: string | null): string {
  if (from === null) return 'with its number withheld';
  if (from === ANY_OUTSIDE_CALLER) return 'from outside';
  return from === ANY_INSIDE_CALLER ? 'from inside' : `from ${from}`;
}

const LAST_LEG_MS: Ms = 60_000;
const QUEUE_PAUSE_MS: Ms = 1000;

/** Whose Ending applies: whose mailbox it means, whose permission dials, and where it is set. */
interface Owner {
  readonly person: Person | null;
  readonly payer: Payer;
  readonly isMenu: boolean;
  readonly setting: string;
}

/** Where the call goes next. */
type Next =
  | { readonly go: 'person'; readonly person: Person; readonly line: Line | undefined }
  | { readonly go: 'group'; readonly group: Group }
  | { readonly go: 'menu'; readonly menu: Menu }
  | {
      readonly go: 'ending';
      readonly ending: Ending;
      readonly owner: Owner;
      readonly round: () => StagesResult;
    };

const NO_ROUND = (): StagesResult => 'through';
const ownerOf = (person: Person, setting: string): Owner => ({
  person,
  payer: payerOf(person),
  isMenu: false,
  setting,
});

/** Step 2: a person's line is called. */
function runPerson(run: Run, person: Person, line: Line | undefined): Next | Stop {
  if (run.askedPeople.has(person.id)) return stop({ kind: 'loop', atMs: run.now, person: person.id });
  run.askedPeople.add(person.id);
  const base = `people[${person.id}]`;
  const forwarded = forwardOf(run, line);
  if (line && forwarded) {
    const setting = `${base}.lines[${line.id}].forwardAll`;
    run.path.push({ person: person.id, rule: 'forward-all' });
    note(run, 'rule', () => `Always-forward is set on ${person.name}'s line ${line.extension}.`, {
      person: person.id,
      setting,
    });
    return { go: 'ending', ending: forwarded, owner: ownerOf(person, setting), round: NO_ROUND };
  }
  const { rule, name, treatment } = chooseTreatment(run.index, person, {
    from: run.call.from,
    arrival: run.arrival,
    line,
    epochMs: epochNow(run),
    run,
  });
  const setting = rule ? `${base}.plan.rules[${rule.id}]` : `${base}.plan.otherwise`;
  ask(run, `engaged/${person.id}`);
  const active = activeCallsOf(run, person.id);
  if (active >= person.maxCalls) {
    run.path.push({ person: person.id, rule: 'busy' });
    note(run, 'rule', () => `${person.name} has ${active} of ${person.maxCalls} calls already.`, {
      person: person.id,
      setting: `${base}.maxCalls`,
    });
    const ending = treatment.busy ?? treatment.ending;
    return {
      go: 'ending',
      ending,
      owner: ownerOf(person, `${setting}.${treatment.busy ? 'busy' : 'ending'}`),
      round: NO_ROUND,
    };
  }
  run.path.push({ person: person.id, rule: name });
  note(
    run,
    'rule',
    () =>
      rule
        ? `${person.name}'s rule "${rule.name}" is the first that fits.`
        : person.plan.rules.length > 0
          ? `None of ${person.name}'s rules fits: the plan's last treatment applies.`
          : `${person.name}'s plan has one treatment, for every call.`,
    { person: person.id, setting },
  );
  return afterRound(runStages(run, treatment.stages, person, setting), {
    go: 'ending',
    ending: treatment.ending,
    owner: ownerOf(person, `${setting}.ending`),
    round: () => runStages(run, treatment.stages, person, setting),
  });
}

/** What follows once a round of stages is through outside a queue. */
function afterRound(result: StagesResult, then: Extract<Next, { go: 'ending' }>): Next | Stop {
  if (typeof result === 'string') return then;
  if ('stop' in result) return result;
  if ('queueOver' in result) return then;
  return {
    go: 'ending',
    ending: result.ending,
    owner: { ...then.owner, setting: result.setting },
    round: NO_ROUND,
  };
}

function runGroup(run: Run, group: Group): Next | Stop {
  if (run.visitedGroups.has(group.id)) return stop({ kind: 'loop', atMs: run.now });
  run.visitedGroups.add(group.id);
  run.arrival = 'group';
  run.path.push({ group: group.id });
  const setting = `groups[${group.id}]`;
  note(
    run,
    'group',
    () =>
      `The group ${group.name} rings its members ${group.mode === 'together' ? 'together' : 'one after another'}, ${seconds(group.ringMs)} ${group.mode === 'together' ? 'in all' : 'each'}.`,
    { setting },
  );
  const owner: Owner = { person: null, payer: group, isMenu: false, setting: `${setting}.ending` };
  return afterRound(groupRound(run, group), {
    go: 'ending',
    ending: group.ending,
    owner,
    round: () => groupRound(run, group),
  });
}

function runMenu(run: Run, menu: Menu): Next | Stop {
  if (run.visitedMenus.has(menu.id)) return stop({ kind: 'loop', atMs: run.now });
  run.visitedMenus.add(menu.id);
  const now = epochNow(run);
  for (const { when } of menu.rules) {
    if (when.schedule) askSchedule(run.asked, when.schedule.id, run.now);
    if (when.caller) ask(run, 'caller');
  }
  const rule = menu.rules.find(
    ({ when }) =>
      (!when.schedule || scheduleHolds(run.index, when.schedule, now)) &&
      (!when.caller || callerHolds(when.caller, run.call.from)),
  );
  if (!rule) return stop({ kind: 'failed', atMs: run.now, reason: 'no-such-number' });
  const setting = `menus[${menu.id}].rules[${rule.id}]`;
  run.path.push({ menu: menu.id, rule: rule.id });
  note(
    run,
    'menu',
    () =>
      `The menu ${menu.name} plays a greeting of ${seconds(rule.greetingMs)} and offers ${rule.choices.map((c) => `key ${c.key}`).join(', ') || 'nothing'}.`,
    { setting },
  );
  const total = rule.greetingMs + rule.waitMs;
  const press = pressIn(run, menu.id, rule.choices, total);
  const from = run.now;
  const stopped = waitUntil(run, run.now + (press ? press.afterMs : total));
  band(run, 'menu', from, `menu ${menu.name}`, setting);
  if (stopped) return stopped;
  note(
    run,
    'pressed',
    () => (press ? `The caller presses ${press.key}.` : 'The caller presses no key that is offered.'),
    { setting },
  );
  const owner: Owner = { person: null, payer: menu, isMenu: true, setting };
  return { go: 'ending', ending: press ? press.then : rule.otherwise, owner, round: NO_ROUND };
}

/** The last leg of a call: an ending that dials one endpoint, number or URI (step 12). */
function lastLeg(run: Run, planned: PlannedTarget): Stop {
  const result = ringStage(run, [planned], LAST_LEG_MS, planned.setting);
  if ('stop' in result) return result;
  const end = run.legs.at(-1)?.end ?? 'no-answer';
  return stop(
    end === 'no-answer'
      ? { kind: 'unanswered', atMs: run.now }
      : { kind: 'failed', atMs: run.now, reason: end },
  );
}

/** Holds the caller until the queue's time is over, going through the rounds again and again. */
function runQueue(
  run: Run,
  maxMs: Ms,
  then: SimpleEnding,
  owner: Owner,
  round: () => StagesResult,
): Next | Stop {
  const from = run.now;
  run.queueEndMs = run.now + maxMs;
  note(run, 'queue', () => `The caller waits, ${seconds(maxMs)} at most.`, { setting: owner.setting });
  let result: StagesResult = { queueOver: true };
  while (run.now < run.queueEndMs) {
    const began = run.now;
    result = round === NO_ROUND ? 'through' : round();
    if (result !== 'through') break;
    if (run.now > began) continue;
    const until = round === NO_ROUND ? run.queueEndMs : began + QUEUE_PAUSE_MS;
    const stopped = waitUntil(run, Math.min(until, run.queueEndMs));
    if (stopped) return stopped;
  }
  run.queueEndMs = Number.POSITIVE_INFINITY;
  band(run, 'queue', from, `waits up to ${seconds(maxMs)}`, owner.setting);
  if (typeof result === 'object' && 'stop' in result) return result;
  if (typeof result === 'object' && 'ending' in result)
    return {
      go: 'ending',
      ending: result.ending,
      owner: { ...owner, setting: result.setting },
      round: NO_ROUND,
    };
  return {
    go: 'ending',
    ending: then,
    owner: { ...owner, setting: `${owner.setting}.then` },
    round: NO_ROUND,
  };
}

/** Counts a step from one person, group or menu to the next. */
function hop(run: Run, next: Next): Next | Stop {
  run.hops += 1;
  return run.hops > run.index.settings.hopLimit
    ? stop({ kind: 'failed', atMs: run.now, reason: 'too-many-hops' })
    : next;
}

const GONE = 'no-such-number';

const failed = (run: Run, reason: string): Stop => stop({ kind: 'failed', atMs: run.now, reason });

const last = (
  run: Run,
  { payer, setting }: Owner,
  known: PlannedTarget['known'] | undefined,
  endpoint: string,
  present?: string,
): Stop =>
  known
    ? lastLeg(run, { target: { endpoint, ...(present ? { present } : {}) }, known, payer, setting })
    : failed(run, GONE);

function runEnding(run: Run, ending: Ending, owner: Owner, round: () => StagesResult): Next | Stop {
  note(run, 'ending', () => endingText(run.index, ending, owner.person), { setting: owner.setting });
  switch (ending.kind) {
    case 'mailbox': {
      const person = ending.person ? run.index.people.get(ending.person) : owner.person;
      if (!person || person.mailbox?.enabled === false) return failed(run, 'no-mailbox');
      return stop({ kind: 'mailbox', atMs: run.now, person: person.id });
    }
    case 'person': {
      const person = run.index.people.get(ending.person);
      if (!person) return failed(run, GONE);
      run.arrival = owner.isMenu ? 'menu' : 'forwarded';
      return hop(run, { go: 'person', person, line: person.lines[0] });
    }
    case 'group': {
      const group = run.index.groups.get(ending.group);
      return group ? hop(run, { go: 'group', group }) : failed(run, GONE);
    }
    case 'menu': {
      const menu = run.index.menus.get(ending.menu);
      return menu ? hop(run, { go: 'menu', menu }) : failed(run, GONE);
    }
    case 'hang-up':
      return stop({ kind: 'hung-up', atMs: run.now, message: ending.message });
    case 'endpoint':
      return last(run, owner, run.index.endpoints.get(ending.endpoint), ending.endpoint, ending.present);
    case 'number': {
      const { number } = ending;
      return last(
        run,
        owner,
        knownEndpoint({ id: number, label: number, kind: 'mobile', number }, null),
        number,
        ending.present,
      );
    }
    case 'sip': {
      const { uri } = ending;
      return last(run, owner, knownEndpoint({ id: uri, label: uri, kind: 'sip', uri }, null), uri);
    }
    case 'queue':
      return runQueue(run, ending.maxMs, ending.then, owner, round);
  }
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

function firstStep(run: Run): Next | Stop {
  if (run.patienceMs <= 0) return stop({ kind: 'abandoned', atMs: 0 });
  const destination = run.index.destinations.get(run.call.to);
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
  const run: Run = {
    told,
    index,
    call,
    startEpochMs: instantOf(call.at) ?? Number.NaN,
    patienceMs: call.patienceMs ?? Number.POSITIVE_INFINITY,
    now: 0,
    queueEndMs: Number.POSITIVE_INFINITY,
    nameRecorded: false,
    arrival: call.arrival ?? 'direct',
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
  note(run, 'arrives', () => `A call ${callerText(call.from)} arrives for ${call.to}.`);
  let next = firstStep(run);
  while (!('stop' in next)) next = step(run, next);
  const outcome = next.stop;
  note(run, 'outcome', () => outcomeText(index, outcome));
  const { legs, events, path, trunkMs, details, bands, asked } = run;
  return { trace: { outcome, legs, events, path, trunkMs }, details, bands, asked };
}
