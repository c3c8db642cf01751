import {
  callerHolds,
  LAST_LEG_MS,
  type EstateIndex,
  type Call,
  type FailureWord,
  type Outcome,
  type OutcomeKind,
  type Press,
} from '../engine';
import {
  arrivalBit,
  compileQuick,
  type QuickEnding,
  type QuickEstate,
  type QuickGroup,
  type QuickMember,
  type QuickPerson,
  type QuickTarget,
  type QuickTreatment,
  type QuickWhen,
} from './quick-compile';
import { isRegisteredIn, runLeg, stateCode, type LegResult, type QuickWorld } from './quick-leg';
import type { Arrival } from '../../estate';
import { instantOf } from '../time';

const NEVER = Infinity;
const QUEUE_PAUSE_MS = 1000;
const FORWARDED = arrivalBit('forwarded');
const BY_MENU = arrivalBit('menu');
const BY_GROUP = arrivalBit('group');

/** How one call came out: overwritten by the next. `person` and `endpoint` are places, -1: none. */
export interface QuickResult {
  kind: OutcomeKind;
  atMs: number;
  person: number;
  endpoint: number;
  reason: string;
  message: string;
}

export interface QuickRunner {
  readonly estate: QuickEstate;
  /** What the next call meets; the caller writes into it. */
  readonly world: QuickWorld;
  /** Puts everything back to its default. */
  readonly reset: () => void;
  /** Runs a call on the world as it stands. The same object is given back each time. */
  readonly run: (
    from: string | null,
    to: string,
    epochMs: number,
    patienceMs?: number,
    arrival?: Arrival,
  ) => QuickResult;
  /** The outcome of the call run last, as a trace would have it. */
  readonly outcome: () => Outcome;
  /** Runs a call as `runCall` does, and gives its outcome alone. */
  readonly outcomeOf: (call: Call) => Outcome;
}

type Round = { readonly treatment: QuickTreatment } | { readonly group: QuickGroup } | null;
const THROUGH = 0;
const OVER = 1;
const ENDED = 2;
const NO_PRESS = 3;
const ENDING = 4;

/**
 * The engine without its trace: the same outcomes as `runCall` (a property test holds the two together), for runs in
 * their millions. Legs are worked out one by one, which is enough where no two of them compete for a channel; where
 * they do, in the order in which they are dialled. Makes no objects while it runs.
 */
export function quickRunner(index: EstateIndex): QuickRunner {
  const quick = compileQuick(index);
  const { settings, estate } = index;
  // Slots for bare numbers are added as plans are made ready, so there is room for more of them.
  for (let i = 0; i < estate.people.length; i += 1) quick.person(i);
  for (let i = 0; i < estate.groups.length; i += 1) quick.group(i);
  for (let i = 0; i < estate.menus.length; i += 1) quick.menu(i);
  const size = quick.slots.length;
  const world: QuickWorld = {
    state: new Uint8Array(size),
    setupMs: new Float64Array(size),
    answerAfterMs: new Float64Array(size),
    rejectAfterMs: new Float64Array(size),
    mailboxAfterMs: new Float64Array(size),
    offAnswerMs: new Float64Array(size),
    pressAfterMs: new Float64Array(size),
    refuseAfterMs: new Float64Array(size),
    activeCalls: new Float64Array(estate.people.length),
    trunkUse: new Float64Array(estate.trunks.length),
  };
  let presses: Readonly<Record<string, Press>> | undefined;
  let code: { readonly digits: string; readonly afterMs: number } | undefined;
  let groupLast: Readonly<Record<string, number>> | undefined;
  let idleMs: Readonly<Record<string, number>> | undefined;

  const reset = () => {
    world.state.fill(0);
    for (const own of [world.setupMs, world.mailboxAfterMs, world.offAnswerMs]) own.fill(Number.NaN);
    for (const never of [world.answerAfterMs, world.rejectAfterMs, world.refuseAfterMs]) never.fill(NEVER);
    world.pressAfterMs.fill(3000);
    world.activeCalls.fill(0);
    world.trunkUse.fill(0);
    presses = undefined;
    code = undefined;
    groupLast = undefined;
    idleMs = undefined;
  };
  reset();

  const result: QuickResult = {
    kind: 'unanswered',
    atMs: 0,
    person: -1,
    endpoint: -1,
    reason: '',
    message: '',
  };
  const leg: LegResult = { connectMs: 0, byVoicemail: false, endMs: 0, word: 'no-answer' };
  const owners = quick.slots.map(({ owner }) => (owner ? quick.personAt.get(owner.id)! : -1));
  const channels = estate.trunks.map((trunk) => trunk.channels);

  let from: string | null = null;
  let start = 0;
  let patience = NEVER;
  let now = 0;
  let queueEnd = NEVER;
  let named = false;
  let arrival = 0;
  let hops = 0;
  let visit = 0;
  const askedIn = new Float64Array(estate.people.length);
  const groupIn = new Float64Array(estate.groups.length);
  const menuIn = new Float64Array(estate.menus.length);

  const end = (kind: OutcomeKind, person: number, endpoint: number, reason: string): number => {
    result.kind = kind;
    result.atMs = now;
    result.person = person;
    result.endpoint = endpoint;
    result.reason = reason;
    return ENDED;
  };
  /** Waits; true if the caller hangs up meanwhile. */
  const wait = (untilMs: number): boolean => {
    if (patience <= untilMs) {
      now = patience;
      end('abandoned', -1, -1, '');
      return true;
    }
    now = untilMs;
    return false;
  };

  const part: QuickTarget[] = [];
  let parts = 0;
  // The legs of a stage that holds channels, for those that come after them.
  let heldTrunk = new Int32Array(16);
  let heldUntil = new Float64Array(16);
  let heldCount = 0;

  const takesPart = (target: QuickTarget, forMs: number): boolean => {
    if (target.delayMs >= forMs || (target.arrivals & arrival) === 0) return false;
    if (target.clock !== null && target.clock.inside(start + now) !== target.inside) return false;
    const { whileRegistered, unlessRegistered } = target;
    if (whileRegistered >= 0 && !isRegisteredIn(world, whileRegistered, quick.slots[whileRegistered]!))
      return false;
    return unlessRegistered < 0 || !isRegisteredIn(world, unlessRegistered, quick.slots[unlessRegistered]!);
  };
  const take = (targets: readonly QuickTarget[], forMs: number) => {
    for (let i = 0; i < targets.length; i += 1) {
      const target = targets[i]!;
      if (takesPart(target, forMs)) {
        part[parts] = target;
        parts += 1;
      }
    }
  };

  /** Whether the outside legs of the stage could want more channels than some trunk of theirs has free. */
  const competes = (): boolean => {
    let outside = 0;
    for (let i = 0; i < parts; i += 1) if (part[i]!.trunks.length > 0) outside += 1;
    if (outside === 0) return false;
    for (let i = 0; i < parts; i += 1) {
      const first = part[i]!.trunks[0];
      if (first !== undefined && channels[first]! - world.trunkUse[first]! < outside) return true;
    }
    return false;
  };
  /** Takes a channel for a leg dialled at a moment; why not, or null. */
  const takeChannel = (target: QuickTarget, dialMs: number): FailureWord | null => {
    for (const trunk of target.trunks) {
      let inUse = world.trunkUse[trunk]!;
      for (let i = 0; i < heldCount; i += 1) if (heldTrunk[i] === trunk && heldUntil[i]! > dialMs) inUse += 1;
      if (inUse >= channels[trunk]!) continue;
      heldTrunk[heldCount] = trunk;
      return null;
    }
    return 'no-channel';
  };

  let bestMs = NEVER;
  let bestAtDialling = false;
  let bestVoicemail = false;
  let bestAt = -1;
  let stageOverMs = 0;

  /** Whether the leg just worked out connects before the best one so far, by the order of an instant. */
  const beats = (at: number, atDialling: boolean): boolean => {
    if (leg.connectMs !== bestMs) return leg.connectMs < bestMs;
    if (atDialling !== bestAtDialling) return bestAtDialling;
    if (!atDialling && leg.byVoicemail !== bestVoicemail) return bestVoicemail;
    return at < bestAt;
  };
  const workOut = (at: number, stageStart: number, stageEnd: number, competing: boolean) => {
    const target = part[at]!;
    const dialMs = stageStart + target.delayMs;
    let refused = target.refused;
    const wantsChannel = competing && refused === null && target.trunks.length > 0 && dialMs < queueEnd;
    if (wantsChannel) refused = takeChannel(target, dialMs);
    runLeg(
      world,
      quick.slots[target.slot]!,
      target,
      refused,
      dialMs,
      stageEnd,
      queueEnd,
      settings.confirmWithinMs,
      leg,
    );
    if (wantsChannel && refused === null) {
      heldUntil[heldCount] = leg.connectMs === NEVER ? leg.endMs : leg.connectMs;
      heldCount += 1;
    }
    if (leg.connectMs === NEVER) {
      if (leg.endMs > stageOverMs) stageOverMs = leg.endMs;
      return;
    }
    const atDialling = leg.connectMs === dialMs;
    if (!beats(at, atDialling)) return;
    bestMs = leg.connectMs;
    bestAtDialling = atDialling;
    bestVoicemail = leg.byVoicemail;
    bestAt = at;
  };

  /** Runs a ring stage with the targets that `take` has gathered. */
  const ring = (forMs: number): number => {
    if (now >= queueEnd) return OVER;
    if (!named && parts > 0) {
      let asks = false;
      for (let i = 0; i < parts; i += 1) if (part[i]!.asksName) asks = true;
      if (asks) {
        const until = now + settings.recordNameMs;
        if (wait(Math.min(until, queueEnd))) return ENDED;
        if (queueEnd < until) return OVER;
        named = true;
      }
    }
    const began = now;
    bestMs = NEVER;
    bestAt = -1;
    stageOverMs = began;
    if (parts > 1 && competes()) ringCompeting(began, forMs);
    else {
      const competing = parts === 1 && competes();
      heldCount = 0;
      for (let i = 0; i < parts; i += 1) workOut(i, began, began + forMs, competing);
    }
    if (bestAt >= 0) {
      if (wait(bestMs)) return ENDED;
      const { slot } = part[bestAt]!;
      return end(bestVoicemail ? 'carrier-voicemail' : 'answered', owners[slot]!, slot, '');
    }
    if (stageOverMs > began && wait(stageOverMs)) return ENDED;
    return now >= queueEnd ? OVER : THROUGH;
  };
  /** Where channels are short, legs are worked out in the order in which they are dialled. */
  const ringCompeting = (began: number, forMs: number) => {
    if (heldTrunk.length < parts) {
      heldTrunk = new Int32Array(parts * 2);
      heldUntil = new Float64Array(parts * 2);
    }
    heldCount = 0;
    let lastDelay = -1;
    let lastAt = -1;
    for (let done = 0; done < parts; done += 1) {
      let next = -1;
      for (let i = 0; i < parts; i += 1) {
        const { delayMs } = part[i]!;
        if (delayMs < lastDelay || (delayMs === lastDelay && i <= lastAt)) continue;
        if (next < 0 || delayMs < part[next]!.delayMs) next = i;
      }
      lastDelay = part[next]!.delayMs;
      lastAt = next;
      if (bestMs < began + lastDelay) break;
      workOut(next, began, began + forMs, true);
    }
  };

  let chosenEnding: QuickEnding = { kind: 'gone' };
  const cutWait = (untilMs: number): number => {
    if (wait(Math.min(untilMs, queueEnd))) return ENDED;
    return queueEnd < untilMs ? OVER : THROUGH;
  };
  const pressed = (id: string, totalMs: number): Press | null => {
    const press = presses && Object.hasOwn(presses, id) ? presses[id]! : null;
    return press !== null && press.afterMs <= totalMs ? press : null;
  };
  const stages = (treatment: QuickTreatment): number => {
    for (let i = 0; i < treatment.stages.length; i += 1) {
      if (now >= queueEnd) return OVER;
      const stage = treatment.stages[i]!;
      if (stage.kind === 'ring') {
        parts = 0;
        take(stage.targets, stage.forMs);
        const rung = ring(stage.forMs);
        if (rung !== THROUGH) return rung;
      } else if (stage.kind === 'offer') {
        const press = pressed('offer', stage.totalMs);
        let choice = -1;
        for (let c = 0; press !== null && c < stage.choices.length; c += 1)
          if (choice < 0 && stage.choices[c]!.key === press.key) choice = c;
        const cut = cutWait(now + (choice >= 0 ? press!.afterMs : stage.totalMs));
        if (cut !== THROUGH) return cut;
        if (choice < 0) return NO_PRESS;
        const { then } = stage.choices[choice]!;
        if (then !== null) {
          chosenEnding = then;
          return ENDING;
        }
      } else {
        const inTime = code !== undefined && code.afterMs <= stage.withinMs;
        const cut = cutWait(now + (inTime ? code!.afterMs : stage.withinMs));
        if (cut !== THROUGH) return cut;
        if (!inTime || code!.digits !== stage.digits) {
          chosenEnding = stage.wrong;
          return ENDING;
        }
      }
    }
    return THROUGH;
  };

  const holds = (when: QuickWhen, line: string | null): boolean => {
    if ((when.arrivals & arrival) === 0) return false;
    if (when.lines !== null && (line === null || !when.lines.includes(line))) return false;
    if (when.caller !== null && when.caller !== undefined && !callerHolds(when.caller, from)) return false;
    return when.clock === null || when.clock.inside(start + now) === when.inside;
  };
  const chosen = (person: QuickPerson, line: string | null): QuickTreatment => {
    for (let i = 0; i < person.rules.length; i += 1)
      if (holds(person.rules[i]!.when, line)) return person.rules[i]!.then;
    return person.otherwise;
  };

  const forwardOf = (line: QuickPerson['lines'][number]): QuickEnding | null =>
    line.forwardAll !== null && start + now >= line.untilMs ? line.after : line.forwardAll;

  const takeMember = (member: QuickMember, forMs: number) => {
    if ('target' in member) {
      if (takesPart(member.target, forMs)) {
        part[parts] = member.target;
        parts += 1;
      }
      return;
    }
    const person = quick.person(member.person);
    const line = person.lines[0] ?? null;
    if ((line && forwardOf(line)) || world.activeCalls[member.person]! >= person.maxCalls) return;
    const { firstRing } = chosen(person, line?.id ?? null);
    if (firstRing) take(firstRing, forMs);
  };
  let order = new Int32Array(16);
  const setOrder = (group: QuickGroup): void => {
    const count = group.members.length;
    if (order.length < count) order = new Int32Array(count * 2);
    const last = group.mode === 'circular' ? groupLast?.[group.id] : undefined;
    const first = last === undefined || count === 0 ? 0 : (last + 1) % count;
    for (let i = 0; i < count; i += 1) order[i] = (first + i) % count;
    if (group.mode !== 'longest-idle') return;
    const idle = (at: number) => idleMs?.[group.members[at]!.id] ?? 0;
    for (let i = 1; i < count; i += 1) {
      const moving = order[i]!;
      let to = i;
      while (to > 0 && idle(order[to - 1]!) < idle(moving)) {
        order[to] = order[to - 1]!;
        to -= 1;
      }
      order[to] = moving;
    }
  };
  const groupRound = (group: QuickGroup): number => {
    if (group.mode === 'simultaneous') {
      parts = 0;
      for (let i = 0; i < group.members.length; i += 1) takeMember(group.members[i]!, group.ringMs);
      return ring(group.ringMs);
    }
    setOrder(group);
    for (let i = 0; i < group.members.length; i += 1) {
      if (now >= queueEnd) return OVER;
      parts = 0;
      takeMember(group.members[order[i]!]!, group.ringMs);
      const rung = ring(group.ringMs);
      if (rung !== THROUGH) return rung;
    }
    return THROUGH;
  };
  const round = (what: Round): number =>
    what === null ? THROUGH : 'treatment' in what ? stages(what.treatment) : groupRound(what.group);

  /** Goes through the queue; afterwards `chosenEnding` applies unless the call has ended. */
  const waitInQueue = (maxMs: number, then: QuickEnding, what: Round): number => {
    queueEnd = now + maxMs;
    let came = OVER;
    while (now < queueEnd) {
      const began = now;
      came = round(what);
      if (came !== THROUGH) break;
      if (now > began) continue;
      if (wait(Math.min(what === null ? queueEnd : began + QUEUE_PAUSE_MS, queueEnd))) return ENDED;
    }
    queueEnd = NEVER;
    if (came === ENDED) return ENDED;
    if (came !== ENDING) chosenEnding = then;
    return THROUGH;
  };

  const lastLeg = (target: QuickTarget): number => {
    parts = 0;
    part[0] = target;
    parts = 1;
    if (ring(LAST_LEG_MS) === ENDED) return ENDED;
    return leg.word === 'no-answer' ? end('unanswered', -1, -1, '') : end('failed', -1, -1, leg.word);
  };

  /** Whether one hop more is too many. */
  const hop = (): boolean => {
    hops += 1;
    if (hops <= settings.hopLimit) return false;
    end('failed', -1, -1, 'too-many-hops');
    return true;
  };

  let atPerson = -1;
  let atGroup = -1;
  let atMenu = -1;
  let atLine = '';

  /** Applies an ending; ENDED, or THROUGH with where the call goes next. */
  const conclude = (first: QuickEnding, what: Round): number => {
    let ending = first;
    let rounds = what;
    for (;;) {
      switch (ending.kind) {
        case 'mailbox': {
          const { person, enabled } = ending;
          if (person < 0 || !enabled) return end('failed', -1, -1, 'no-mailbox');
          return end('mailbox', person, -1, '');
        }
        case 'person':
          arrival = ending.fromMenu ? BY_MENU : FORWARDED;
          if (hop()) return ENDED;
          atPerson = ending.at;
          atLine = '';
          return THROUGH;
        case 'group':
          if (hop()) return ENDED;
          atGroup = ending.at;
          return THROUGH;
        case 'menu':
          if (hop()) return ENDED;
          atMenu = ending.at;
          return THROUGH;
        case 'hang-up':
          result.message = ending.message;
          return end('hung-up', -1, -1, '');
        case 'last-leg':
          return lastLeg(ending.target);
        case 'gone':
          return end('failed', -1, -1, 'no-such-number');
        case 'queue':
          if (waitInQueue(ending.maxMs, ending.then, rounds) === ENDED) return ENDED;
          ending = chosenEnding;
          rounds = null;
      }
    }
  };
  const afterRound = (came: number, ending: QuickEnding, what: Round): number => {
    if (came === ENDED) return ENDED;
    if (came === ENDING) return conclude(chosenEnding, null);
    return conclude(ending, what);
  };

  const runPerson = (at: number): number => {
    if (askedIn[at] === visit) return end('loop', at, -1, '');
    askedIn[at] = visit;
    const person = quick.person(at);
    let line = person.lines[0] ?? null;
    if (atLine !== '')
      for (let i = 0; i < person.lines.length; i += 1)
        if (person.lines[i]!.id === atLine) line = person.lines[i]!;
    const forwarded = line && forwardOf(line);
    if (forwarded) return conclude(forwarded, null);
    const treatment = chosen(person, line?.id ?? null);
    if (world.activeCalls[at]! >= person.maxCalls) return conclude(treatment.busy, null);
    return afterRound(stages(treatment), treatment.ending, treatmentRound(treatment));
  };
  const rounds = new Map<QuickTreatment | QuickGroup, Round>();
  const treatmentRound = (treatment: QuickTreatment): Round => {
    if (treatment.ending.kind !== 'queue') return null;
    let kept = rounds.get(treatment);
    if (!kept) rounds.set(treatment, (kept = { treatment }));
    return kept;
  };
  const groupRoundOf = (group: QuickGroup): Round => {
    if (group.ending.kind !== 'queue') return null;
    let kept = rounds.get(group);
    if (!kept) rounds.set(group, (kept = { group }));
    return kept;
  };
  const runGroup = (at: number): number => {
    if (groupIn[at] === visit) return end('loop', -1, -1, '');
    groupIn[at] = visit;
    arrival = BY_GROUP;
    const group = quick.group(at);
    return afterRound(groupRound(group), group.ending, groupRoundOf(group));
  };
  const runMenu = (at: number): number => {
    if (menuIn[at] === visit) return end('loop', -1, -1, '');
    menuIn[at] = visit;
    const menu = quick.menu(at);
    for (let i = 0; i < menu.rules.length; i += 1) {
      const rule = menu.rules[i]!;
      const { when } = rule;
      if (when.clock !== null && when.clock.inside(start + now) !== when.inside) continue;
      if (when.caller && !callerHolds(when.caller, from)) continue;
      const press = pressed(menu.id, rule.totalMs);
      let choice: QuickEnding | null = null;
      if (press !== null)
        for (let c = 0; choice === null && c < rule.choices.length; c += 1)
          if (rule.choices[c]!.key === press.key) choice = rule.choices[c]!.then;
      if (wait(now + (choice ? press!.afterMs : rule.totalMs))) return ENDED;
      return conclude(choice ?? rule.otherwise, null);
    }
    return end('failed', -1, -1, 'no-such-number');
  };

  const run: QuickRunner['run'] = (caller, to, epochMs, patienceMs = NEVER, came = 'direct') => {
    from = caller;
    start = epochMs;
    patience = patienceMs;
    now = 0;
    queueEnd = NEVER;
    named = false;
    arrival = arrivalBit(came);
    hops = 0;
    visit += 1;
    result.message = '';
    if (patience <= 0) {
      end('abandoned', -1, -1, '');
      return result;
    }
    const destination = index.destinations.get(to);
    if (!destination) {
      end('failed', -1, -1, 'no-such-number');
      return result;
    }
    atPerson = atGroup = atMenu = -1;
    if (destination.kind === 'line') {
      atPerson = quick.personAt.get(destination.person.id)!;
      atLine = destination.line.id;
    } else if (destination.kind === 'group') atGroup = quick.groupAt.get(destination.group.id)!;
    else atMenu = quick.menuAt.get(destination.menu.id)!;
    for (let came = THROUGH; came !== ENDED;) {
      const person = atPerson;
      const group = atGroup;
      const menu = atMenu;
      atPerson = atGroup = atMenu = -1;
      came = person >= 0 ? runPerson(person) : group >= 0 ? runGroup(group) : runMenu(menu);
    }
    return result;
  };

  const load = (call: Call) => {
    reset();
    const { world: given } = call;
    for (const [id, behaviour] of Object.entries(given?.endpoints ?? {})) {
      const slot = quick.slotOf.get(id);
      if (slot === undefined) continue;
      const never = (ms: number | null | undefined, left: number) =>
        ms === undefined ? left : (ms ?? NEVER);
      world.state[slot] = stateCode(behaviour.state ?? 'ready');
      world.setupMs[slot] = behaviour.setupMs ?? Number.NaN;
      world.answerAfterMs[slot] = never(behaviour.answerAfterMs, NEVER);
      world.rejectAfterMs[slot] = never(behaviour.rejectAfterMs, NEVER);
      world.mailboxAfterMs[slot] = never(behaviour.mailboxAfterMs, Number.NaN);
      world.offAnswerMs[slot] = behaviour.offAnswerMs ?? Number.NaN;
      world.pressAfterMs[slot] = never(behaviour.pressAfterMs, 3000);
      world.refuseAfterMs[slot] = never(behaviour.refuseAfterMs, NEVER);
    }
    for (const [id, calls] of Object.entries(given?.activeCalls ?? {})) {
      const at = quick.personAt.get(id);
      if (at !== undefined) world.activeCalls[at] = calls;
    }
    for (const [at, trunk] of estate.trunks.entries()) world.trunkUse[at] = given?.trunkUse?.[trunk.id] ?? 0;
    presses = given?.presses;
    code = given?.code;
    groupLast = given?.groupLast;
    idleMs = given?.idleMs;
  };
  const outcomeOf = (call: Call): Outcome => {
    load(call);
    run(
      call.from,
      call.to,
      instantOf(call.at) ?? Number.NaN,
      call.patienceMs ?? NEVER,
      call.arrival ?? 'direct',
    );
    return outcomeFrom(index, quick, result);
  };
  const outcome = () => outcomeFrom(index, quick, result);
  return { estate: quick, world, reset, run, outcome, outcomeOf };
}

/** A quick result as the outcome that a trace would have. */
function outcomeFrom(index: EstateIndex, quick: QuickEstate, came: QuickResult): Outcome {
  const { kind, atMs } = came;
  const person = came.person >= 0 ? { person: index.estate.people[came.person]!.id } : {};
  switch (kind) {
    case 'answered':
    case 'carrier-voicemail':
      return { kind, atMs, endpoint: quick.slots[came.endpoint]!.endpoint.id, ...person };
    case 'mailbox':
      return { kind, atMs, person: index.estate.people[came.person]!.id };
    case 'hung-up':
      return { kind, atMs, message: came.message };
    case 'loop':
      return { kind, atMs, ...person };
    case 'failed':
      return { kind, atMs, reason: came.reason };
    case 'abandoned':
    case 'unanswered':
      return { kind, atMs };
  }
}
