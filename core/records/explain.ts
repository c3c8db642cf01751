import {
  endpointName,
  isLost,
  OUTCOME_KINDS,
  outcomeText,
  runCall,
  withPeople,
  type Call,
  type EstateIndex,
  type OutcomeKind,
  type Trace,
  type World,
} from '../calls/engine';
import { describeWhen } from '../calls/views';
import { asRun, sayBehind, shouldRun, type Behind } from '../changes/restarts';
import type { Person } from '../estate';
import { legsBeside, sayBeside, type LegBeside } from './beside';
import { callOf, outcomeOf } from './replay';
import type { CallRecord } from './types';

/** What was so when a call came, as far as it is known. */
export interface Then {
  /** The estate as it stood. */
  readonly index: EstateIndex;
  /** Phones of which it is known whether they were registered. */
  readonly registered?: ReadonlyMap<string, boolean>;
  readonly seats?: World['seats'];
  /** Who was signed on at a shared desk, by the phone of theirs that stands for it; left out: it is not known. */
  readonly desks?: ReadonlyMap<string, DeskThen>;
  /** Phones that ran something else than they should. */
  readonly behind?: readonly Behind[];
  /** The estate before and after a change near the call, and what it would mean if the call went by that one. */
  readonly others?: readonly { readonly says: string; readonly index: EstateIndex }[];
}

/** Where somebody was signed on. */
export interface DeskThen {
  readonly desk: string;
  readonly sinceMs: number;
  readonly untilMs: number | null;
}

/** `unsure`: too little is known of the call. */
export type Went = 'planned' | 'otherwise' | 'unsure';

/** One call as it went beside the same call as it should have gone. */
export interface Explained {
  readonly went: Went;
  /** One sentence. */
  readonly says: string;
  readonly planned: Trace;
  /** The call as the plan took it: run again it comes to the same. */
  readonly call: Call;
  readonly legs: readonly LegBeside[];
  readonly isSameOutcome: boolean;
  /** The first thing that by itself makes the plan come to what happened. */
  readonly reason: { readonly id: string; readonly says: string } | null;
}

/** Outcomes by who has the call in the end: what an import says is no finer. */
const coarse = (kind: string): string =>
  kind === 'answered' || kind === 'carrier-voicemail'
    ? 'answered'
    : kind === 'mailbox' || kind === 'played'
      ? 'kept'
      : 'nobody';

const withWorld = (call: Call, more: World): Call => ({
  ...call,
  world: { ...call.world, ...more, endpoints: { ...call.world?.endpoints, ...more.endpoints } },
});

const isHotDesk = (index: EstateIndex, id: string): boolean =>
  index.endpoints.get(id)?.endpoint.kind === 'hot-desk';

const hotDesks = new WeakMap<EstateIndex['endpoints'], readonly string[]>();
/** The phones that are whichever shared desk somebody is signed on to, of those who were signed on nowhere. */
function signedOffThen({ index, desks }: Then): World['endpoints'] {
  if (!desks) return {};
  let all = hotDesks.get(index.endpoints);
  if (!all) {
    all = [...index.endpoints.keys()].filter((id) => isHotDesk(index, id));
    hotDesks.set(index.endpoints, all);
  }
  return Object.fromEntries(
    all.flatMap((id) => (desks.has(id) ? [] : [[id, { state: 'unregistered' as const }]])),
  );
}

/** How phones that were not dialled stood: those that were not registered. */
function unregisteredThen(then: Then): World['endpoints'] {
  const { index, registered, desks } = then;
  const away = [...(registered ?? [])].flatMap(([id, isThere]) =>
    isThere || !index.endpoints.has(id) || (desks && isHotDesk(index, id)) ? [] : [id],
  );
  return Object.fromEntries(away.map((id) => [id, { state: 'unregistered' as const }]));
}

/** Phones that a record says were not registered, though they were: what they would have done is not known. */
function registeredAfterAll({ registered, desks }: Then, world: World | undefined): World['endpoints'] {
  return Object.fromEntries(
    Object.entries(world?.endpoints ?? {}).flatMap(([id, { state }]) =>
      state === 'unregistered' && (registered?.get(id) === true || desks?.has(id) === true)
        ? [[id, { state: 'ready' as const }]]
        : [],
    ),
  );
}

/** The call as it should have gone: what is known of then, and each phone doing as it did. */
function plannedCall(then: Then, record: CallRecord): Call {
  const call = callOf(then.index, record);
  const { trunkUse: _told, ...world } = call.world ?? {};
  const known: World = {
    ...(then.seats ? { seats: then.seats } : {}),
    ...world,
    // That a leg found no channel does not say that none was free.
    ...(record.world?.trunkUse ? { trunkUse: record.world.trunkUse } : {}),
    endpoints: {
      ...unregisteredThen(then),
      ...world.endpoints,
      ...registeredAfterAll(then, world),
      ...signedOffThen(then),
    },
  };
  const whole: Call = { ...call, world: known };
  // A record without legs tells at most which phone answered, and when.
  if (record.legs.length > 0 || record.outcome !== 'answered' || record.answeredBy === undefined)
    return whole;
  const leg = runCall(then.index, whole).legs.find(({ endpoint }) => endpoint === record.answeredBy);
  if (!leg || leg.alertMs === null || leg.alertMs > record.atMs) return whole;
  return withWorld(whole, {
    endpoints: {
      [record.answeredBy]: { state: 'ready', answerAfterMs: record.atMs - leg.alertMs, pressAfterMs: 0 },
    },
  });
}

interface Beside {
  readonly trace: Trace;
  readonly legs: readonly LegBeside[];
  readonly isSameOutcome: boolean;
}
const isSame = ({ legs, isSameOutcome }: Beside): boolean =>
  isSameOutcome && legs.every(({ how }) => how === 'same');

function laidBeside(index: EstateIndex, call: Call, record: CallRecord): Beside {
  const trace = runCall(index, call);
  const isOwn = record.source !== 'import';
  const kind = trace.outcome.kind;
  return {
    trace,
    legs: record.legs.length > 0 || isOwn ? legsBeside(trace.legs, record.legs, isOwn) : [],
    isSameOutcome: isOwn ? kind === record.outcome : coarse(kind) === coarse(record.outcome),
  };
}

interface Candidate {
  readonly id: string;
  readonly says: string;
  readonly index?: EstateIndex;
  readonly call?: Call;
}

/** Everything that could be behind a difference, each by itself, the likeliest first. */
function* candidates(then: Then, call: Call, beside: Beside): Generator<Candidate> {
  const { index, behind = [], others = [] } = then;
  for (const [n, other] of others.entries()) yield { id: `version/${n}`, ...other };
  const owner = (endpoint: string): Person | undefined => index.endpoints.get(endpoint)?.owner ?? undefined;
  for (const each of behind) {
    const person = owner(each.endpoint);
    const endpoint = person?.endpoints.find(({ id }) => id === each.endpoint);
    const should = person && endpoint ? shouldRun(person, endpoint) : null;
    const endpoints = asRun([each], owner, call.to);
    if (should && Object.keys(endpoints).length > 0)
      yield {
        id: `restart/${each.endpoint}`,
        says: `${endpointName(index, each.endpoint)} had not been restarted since it was changed: ${sayBehind(each.running, should)}`,
        call: withWorld(call, { endpoints }),
      };
  }
  const people = [
    ...new Set(beside.trace.path.flatMap((step) => ('person' in step ? [step.person] : []))),
  ].flatMap((id) => index.people.get(id) ?? []);
  for (const person of people) yield* statusCandidates(index, person);
  const first = beside.legs.find(({ how }) => how !== 'same');
  for (const { endpoint } of first ? [first] : []) {
    const known = index.endpoints.get(endpoint);
    if (known?.endpoint.kind === 'hot-desk' && then.desks)
      yield then.desks.has(endpoint)
        ? {
            id: `signed-off/${endpoint}`,
            says: `the phone system had ${endpointName(index, endpoint)} as signed off already`,
            call: withWorld(call, { endpoints: { [endpoint]: { state: 'unregistered' } } }),
          }
        : {
            id: `signed-on/${endpoint}`,
            says: `the phone system had ${endpointName(index, endpoint)} as signed on still`,
            call: withWorld(call, { endpoints: { [endpoint]: { state: 'ready' } } }),
          };
    else if (known?.number === null)
      yield {
        id: `unregistered/${endpoint}`,
        says: `${endpointName(index, endpoint)} was not registered then`,
        call: withWorld(call, { endpoints: { [endpoint]: { state: 'unregistered' } } }),
      };
  }
  for (const person of people)
    yield {
      id: `engaged/${person.id}`,
      says: `${person.name} was in another call`,
      call: withWorld(call, { activeCalls: { [person.id]: person.maxCalls } }),
    };
  const trunks = index.estate.trunks.filter(({ channels }) => channels > 0);
  const full = (some: typeof trunks): World => ({
    trunkUse: Object.fromEntries(some.map(({ id, channels }) => [id, channels])),
  });
  for (const trunk of trunks)
    yield {
      id: `trunk/${trunk.id}`,
      says: `every channel of the trunk “${trunk.name ?? trunk.id}” was taken, or it was down`,
      call: withWorld(call, full([trunk])),
    };
  if (trunks.length > 1)
    yield {
      id: 'trunks',
      says: 'every channel of all trunks was taken',
      call: withWorld(call, full(trunks)),
    };
  for (const hours of [-1, 1])
    yield {
      id: `clock/${hours}`,
      says: `the clock of the phone system was an hour ${hours > 0 ? 'ahead' : 'behind'}`,
      call: { ...call, at: new Date(Date.parse(call.at) + hours * 3_600_000).toISOString() },
    };
}

function* statusCandidates(index: EstateIndex, person: Person): Generator<Candidate> {
  const asked = new Set(person.plan.rules.flatMap(({ when }) => when.status ?? []));
  const others: string[] = index.estate.statuses.map(({ id }) => id).filter((id) => id !== person.status);
  for (const status of others.sort((a, b) => Number(asked.has(b)) - Number(asked.has(a))))
    yield {
      id: `status/${person.id}/${status}`,
      says: `the phone system took ${person.name} for “${index.statuses.get(status) ?? status}”`,
      index: withStatus(index, person, status),
    };
}

/** The same estate with one person in another status: nothing else of it is put together anew. */
const withStatus = (index: EstateIndex, person: Person, status: string): EstateIndex =>
  withPeople(index, [{ ...person, status }]);

/** Too little of a call is told to say how it went. */
function isUnsure(record: CallRecord): boolean {
  const isThin = record.legs.length === 0 && record.source === 'import';
  return isThin && coarse(record.outcome) === 'answered' && record.answeredBy === undefined;
}

/**
 * Lays a call that went beside what the estate of then makes of it, leg by leg, and looks for the first thing that by
 * itself explains what is different.
 */
export function explainCall(then: Then, record: CallRecord): Explained {
  const call = plannedCall(then, record);
  const beside = laidBeside(then.index, call, record);
  const { trace: planned, legs, isSameOutcome } = beside;
  const base = { planned, call, legs, isSameOutcome };
  if (!then.index.destinations.has(record.to)) {
    const isOut = record.from !== null && then.index.destinations.has(record.from);
    const isAccess = then.index.estate.accessNumbers?.some(({ number }) => number === record.to);
    const says = isAccess
      ? 'A call to an access number that led to no call out.'
      : isOut
        ? 'A call out: no plan has a part in it.'
        : 'Nobody had the number that was called.';
    return { ...base, went: 'unsure', says, reason: null };
  }
  if (isUnsure(record))
    return { ...base, went: 'unsure', says: 'The record does not say which phone answered.', reason: null };
  if (isSame(beside))
    return {
      ...base,
      went: 'planned',
      says: `It went as it was set: ${saySet(then.index, planned)}`,
      reason: null,
    };
  const found = [...candidates(then, call, beside)].find((candidate) => {
    const index = candidate.index ?? then.index;
    return isSame(laidBeside(index, candidate.call ?? call, record));
  });
  const reason = found ? { id: found.id, says: found.says } : null;
  return { ...base, went: 'otherwise', reason, says: saysDifference(then.index, record, beside, reason) };
}

function saysDifference(
  index: EstateIndex,
  record: CallRecord,
  { legs, trace, isSameOutcome }: Beside,
  reason: Explained['reason'],
): string {
  const first = legs.find(({ how }) => how !== 'same');
  const what = first
    ? sayBeside(first, endpointName(index, first.endpoint))
    : isSameOutcome
      ? 'It went otherwise'
      : `${outcomeText(index, outcomeOf(index, record)).replace(/\.$/, '')}; by the plan: ${outcomeText(index, trace.outcome).replace(/\.$/, '')}`;
  return reason
    ? `${what}. What explains it: ${reason.says}.`
    : `${what}. Nothing that is known of then explains it.`;
}

/** By which rule a call went. */
function saySet(index: EstateIndex, { path, outcome }: Trace): string {
  const rules = path.flatMap((step) => {
    if (!('person' in step)) return [];
    const person = index.people.get(step.person);
    const rule = person?.plan.rules.find(({ id }) => id === step.rule);
    return person ? [`${person.name}’s ${rule ? `rule “${rule.name}”` : 'default rule'}`] : [];
  });
  const by = rules.length > 0 ? `by ${rules.join(', then ')}. ` : '';
  return `${by}${outcomeText(index, outcome)}`;
}

/**
 * Why a phone did not ring in a call that went as planned: what left it out, or which rule rings others.
 * @returns null where it rang
 */
export function whyNotRung(index: EstateIndex, { planned }: Explained, endpoint: string): string | null {
  const leg = planned.legs.find((each) => each.endpoint === endpoint);
  const name = endpointName(index, endpoint);
  if (leg && leg.alertMs !== null) return null;
  const event = planned.events.find(
    (each) => each.endpoint === endpoint && ['skipped', 'not-dialled', 'leg-ended'].includes(each.kind),
  );
  if (event) return event.why ? `${name} was left out: ${event.why}.` : event.text;
  const owner = index.endpoints.get(endpoint)?.owner;
  const step = planned.path.find((each) => 'person' in each && each.person === owner?.id);
  if (!owner || !step || !('person' in step))
    return `The call never came to ${owner?.name ?? 'whoever has this phone'}.`;
  const rule = owner.plan.rules.find(({ id }) => id === step.rule);
  const treatment = rule ?? owner.plan.otherwise;
  const rings = treatment.stages.some(
    (stage) => 'ring' in stage && stage.ring.some((target) => target.endpoint === endpoint),
  );
  const which = rule ? `the rule “${rule.name}”` : 'the default rule';
  if (rings) return `${name} did not ring: the call had ended before its turn in ${which} came.`;
  return rule
    ? `${name} did not ring: ${which} was the one that fitted (${describeWhen(index, rule.when, owner)}), and it does not ring it.`
    : `${name} did not ring: no rule fitted, and ${which} does not ring it.`;
}

/** Outcomes in which nobody of the organisation got the call, whoever gave up. */
export const LOST_OUTCOMES: readonly OutcomeKind[] = OUTCOME_KINDS.filter(
  (kind) => isLost(kind) || kind === 'abandoned',
);
