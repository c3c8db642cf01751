import {
  forwardAt,
  type CodeStage,
  type Ending,
  type Group,
  type Line,
  type Member,
  type Menu,
  type Ms,
  type OfferStage,
  type Person,
  type RingTarget,
  type SimpleEnding,
  type Stage,
} from '../estate';
import { instantOf, untilClockId } from '../time';
import { callerHolds, chooseTreatment, scheduleHolds } from './choose';
import { knownEndpoint, type EstateIndex } from './compile';
import { endingText, outcomeText } from './explain';
import { ringStage } from './ring';
import type { PlannedTarget } from './leg';
import {
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
  type Stop,
} from './state';
import type { Call, Outcome, Trace } from './types';

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

type StagesResult =
  Stop | { readonly ending: SimpleEnding; readonly setting: string } | Over | 'through' | 'no-press';
type Over = { readonly queueOver: true };

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
const stop = (outcome: Outcome): Stop => ({ stop: outcome });

/** The press made in an offer or menu, if its key is a choice and it comes in time. */
function pressIn<E>(
  run: Run,
  id: string,
  choices: readonly { key: string; then: E }[],
  withinMs: Ms,
): { afterMs: Ms; key: string; then: E } | null {
  ask(run, id === 'offer' ? id : `menu/${id}`);
  const presses = run.call.world?.presses;
  const press = presses && Object.hasOwn(presses, id) ? presses[id] : undefined;
  const choice = press && choices.find((each) => each.key === press.key);
  return press && choice && press.afterMs <= withinMs ? { ...press, then: choice.then } : null;
}

/** Waits for something that a queue's end cuts off. */
function waitInStage(run: Run, untilMs: Ms): Stop | Over | null {
  const stopped = waitUntil(run, Math.min(untilMs, run.queueEndMs));
  return stopped ?? (run.queueEndMs < untilMs ? { queueOver: true } : null);
}

function runOffer(run: Run, { offer }: OfferStage, setting: string): StagesResult {
  const total = offer.greetingMs + offer.waitMs;
  note(
    run,
    'offer',
    () =>
      `A greeting of ${seconds(offer.greetingMs)} offers ${offer.choices.map((c) => `key ${c.key}`).join(', ') || 'nothing'}, then ${seconds(offer.waitMs)} of silence.`,
    { setting },
  );
  const press = pressIn(run, 'offer', offer.choices, total);
  const from = run.now;
  const cut = waitInStage(run, run.now + (press ? press.afterMs : total));
  band(run, 'offer', from, 'greeting and choice', setting);
  if (cut) return cut;
  if (!press) {
    note(run, 'offer', () => 'The caller presses no key that is offered.', { setting });
    return 'no-press';
  }
  note(run, 'pressed', () => `The caller presses ${press.key}.`, { setting });
  return press.then === 'next' ? 'through' : { ending: press.then, setting };
}

function runCode(run: Run, { code }: CodeStage, setting: string): StagesResult {
  ask(run, 'code');
  const entered = run.call.world?.code;
  const inTime = entered && entered.afterMs <= code.withinMs ? entered : null;
  note(run, 'code', () => `The caller is asked for a code, within ${seconds(code.withinMs)}.`, { setting });
  const from = run.now;
  const cut = waitInStage(run, run.now + (inTime ? inTime.afterMs : code.withinMs));
  band(run, 'code', from, 'code asked for', setting);
  if (cut) return cut;
  const right = inTime?.digits === code.digits;
  note(
    run,
    'code',
    () => (right ? 'The code is right.' : inTime ? 'The code is wrong.' : 'No code is entered in time.'),
    { setting },
  );
  return right ? 'through' : { ending: code.wrong, setting: `${setting}.code.wrong` };
}

function plannedTargets(
  run: Run,
  ring: readonly RingTarget[],
  payer: Payer,
  setting: string,
): PlannedTarget[] {
  return ring.flatMap((target, i) => {
    const known = run.index.endpoints.get(target.endpoint);
    return known ? [{ target, known, payer, setting: `${setting}.ring[${i}]` }] : [];
  });
}

/** Runs the stages of a treatment once, from now. */
function runStages(run: Run, stages: readonly Stage[], person: Person, setting: string): StagesResult {
  for (const [i, stage] of stages.entries()) {
    if (run.now >= run.queueEndMs) return { queueOver: true };
    const at = `${setting}.stages[${i}]`;
    if ('ring' in stage) {
      note(run, 'stage', () => `Stage ${i + 1} rings for ${seconds(stage.forMs)}.`, {
        person: person.id,
        setting: at,
      });
      const result = ringStage(run, plannedTargets(run, stage.ring, payerOf(person), at), stage.forMs, at);
      if (!('through' in result)) return result;
      continue;
    }
    const result = 'offer' in stage ? runOffer(run, stage, at) : runCode(run, stage, at);
    if (result !== 'through') return result;
  }
  return 'through';
}

const ownerOf = (person: Person, setting: string): Owner => ({
  person,
  payer: payerOf(person),
  isMenu: false,
  setting,
});

/** Where the line is forwarded to now. */
function forwardOf(run: Run, line: Line | undefined): SimpleEnding | null {
  if (!line?.forwardAll) return null;
  if (line.forwardUntil !== undefined) askSchedule(run.asked, untilClockId(line), run.now);
  return forwardAt(line, epochNow(run));
}

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
  const active = run.call.world?.activeCalls?.[person.id] ?? 0;
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

function leaveOut(run: Run, person: Person, setting: string, why: string): PlannedTarget[] {
  note(run, 'skipped', () => `${person.name} is left out of the group: ${why}.`, {
    person: person.id,
    setting,
  });
  return [];
}

/** What a member contributes to the group's ringing now (step 13). */
function memberTargets(run: Run, group: Group, member: Member, position: number): PlannedTarget[] {
  const setting = `groups[${group.id}].members[${position}]`;
  if ('endpoint' in member) {
    const known = run.index.endpoints.get(member.endpoint);
    if (!known) return [];
    const payer = known.owner ? payerOf(known.owner) : group;
    return [{ target: { endpoint: member.endpoint }, known, payer, setting }];
  }
  const person = run.index.people.get(member.person);
  if (!person) return [];
  const line = person.lines[0];
  if (forwardOf(run, line)) return leaveOut(run, person, setting, 'always-forward is set on the line');
  ask(run, `engaged/${person.id}`);
  const active = run.call.world?.activeCalls?.[person.id] ?? 0;
  if (active >= person.maxCalls) return leaveOut(run, person, setting, 'no call more is taken at a time');
  const { treatment, rule } = chooseTreatment(run.index, person, {
    from: run.call.from,
    arrival: 'group',
    line,
    epochMs: epochNow(run),
    run,
  });
  const at = treatment.stages.findIndex((each) => 'ring' in each);
  const stage = treatment.stages[at];
  if (!stage || !('ring' in stage))
    return leaveOut(run, person, setting, 'the plan rings nothing for group calls');
  const plan = rule ? `plan.rules[${rule.id}]` : 'plan.otherwise';
  return plannedTargets(run, stage.ring, payerOf(person), `people[${person.id}].${plan}.stages[${at}]`);
}

/** The members in the order in which this call goes to them, each with where it stands in the group. */
function memberOrder(run: Run, group: Group): readonly (readonly [Member, number])[] {
  const members = group.members.map((member, i) => [member, i] as const);
  if (group.mode === 'rotate' && members.length > 0) {
    const last = run.call.world?.groupLast?.[group.id];
    const first = last === undefined ? 0 : (last + 1) % members.length;
    return [...members.slice(first), ...members.slice(0, first)];
  }
  if (group.mode === 'longest-idle') {
    const idle = (member: Member) =>
      run.call.world?.idleMs?.['person' in member ? member.person : member.endpoint] ?? 0;
    return [...members].sort(([a], [b]) => idle(b) - idle(a));
  }
  return members;
}

function groupRound(run: Run, group: Group): StagesResult {
  const order = memberOrder(run, group);
  const stages = group.mode === 'together' ? [order] : order.map((each) => [each]);
  for (const members of stages) {
    if (run.now >= run.queueEndMs) return { queueOver: true };
    const targets = members.flatMap(([member, i]) => memberTargets(run, group, member, i));
    const result = ringStage(run, targets, group.ringMs, `groups[${group.id}]`);
    if (!('through' in result)) return result;
  }
  return 'through';
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
): Stop => (known ? lastLeg(run, { target: { endpoint }, known, payer, setting }) : failed(run, GONE));

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
      return last(run, owner, run.index.endpoints.get(ending.endpoint), ending.endpoint);
    case 'number': {
      const { number } = ending;
      return last(
        run,
        owner,
        knownEndpoint({ id: number, label: number, kind: 'mobile', number }, null),
        number,
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
 */
export function runInDetail(
  index: EstateIndex,
  call: Call,
  told = true,
  unlisted = AS_THE_ESTATE_HAS_IT,
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
  };
  note(run, 'arrives', () => `A call ${callerText(call.from)} arrives for ${call.to}.`);
  let next = firstStep(run);
  while (!('stop' in next)) next = step(run, next);
  const outcome = next.stop;
  note(run, 'outcome', () => outcomeText(index, outcome));
  const { legs, events, path, trunkMs, details, bands, asked } = run;
  return { trace: { outcome, legs, events, path, trunkMs }, details, bands, asked };
}
