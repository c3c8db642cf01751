import type {
  Ending,
  Estate,
  Fault,
  Person,
  Plan,
  RingTarget,
  Rule,
  Schedule,
  SimpleEnding,
  Stage,
  When,
} from '../estate';
import { hoursOf } from './cpl-hours';
import { destinationWhen, externalOnly, joined, originWhen, withCaller } from './cpl-when';
import { contentKey, parseScript, stop, stripped, type Element } from './cpl-xml';

/** What of a script could not be carried over, or only in part, with the line that says it (from 1). */
export interface CplNote {
  readonly line: number;
  readonly text: string;
}

export type ReadCpl =
  | {
      readonly ok: true;
      readonly plan: Plan;
      readonly notes: readonly CplNote[];
      /** Hours that the script has and the organisation has not: the plan names them by these ids. */
      readonly schedules: readonly Schedule[];
    }
  | { readonly ok: false; readonly faults: readonly Fault[] };

const MOST_STEPS = 5000;
const DEFAULT_TIMEOUT_MS = 20_000;

/** Where a script's address leads, as far as the organisation knows it. */
type ScriptPlace =
  | { readonly kind: 'own'; readonly endpoint: string }
  | { readonly kind: 'ending'; readonly ending: SimpleEnding };

interface ScriptReading {
  readonly person: Person;
  readonly estate: Estate;
  readonly subactions: ReadonlyMap<string, Element>;
  readonly notes: CplNote[];
  readonly schedules: Schedule[];
  readonly rules: Rule[];
  steps: number;
}

/** What has been met on the way to a place in the script. */
interface ScriptWay {
  readonly when: When;
  /** The condition can never hold, so nothing of it is carried over. */
  readonly never: boolean;
  readonly places: readonly ScriptPlace[];
  readonly stages: readonly Stage[];
  /** Subactions being gone through: a script that calls itself is refused. */
  readonly within: readonly string[];
}

const note = (to: ScriptReading, { line }: { line: number }, text: string) => {
  if (!to.notes.some((each) => each.line === line && each.text === text)) to.notes.push({ line, text });
};

/** An address of a script: one of the person's phones, or somewhere that a call can end. */
function placeOf(to: ScriptReading, at: Element, url: string): ScriptPlace | null {
  const { person, estate } = to;
  const tel = /^tel:(\+?[\d().-]+)/i.exec(url)?.[1]?.replace(/[().-]/g, '');
  if (tel) {
    const own = person.endpoints.find(({ number }) => number === tel);
    if (own) return { kind: 'own', endpoint: own.id };
    if (/^\+[1-9]\d{6,14}$/.test(tel)) return { kind: 'ending', ending: { kind: 'number', number: tel } };
    return byExtension(to, tel);
  }
  const sip = /^sips?:([^@;?]+)@([^;?]+)((?:;[^?]*)?)/i.exec(url);
  if (!sip) {
    note(to, at, `The address ${url} is neither tel: nor sip: and is left out.`);
    return null;
  }
  const [, user = '', , parameters = ''] = sip;
  const parameter = (name: string) =>
    new RegExp(`;${name}=([^;]*)`, 'i')
      .exec(parameters)?.[1]
      ?.replace(/%([0-9A-Fa-f]{2})/g, (_all, hex: string) => String.fromCharCode(Number.parseInt(hex, 16)));
  const device = parameter('gr');
  if (device !== undefined) {
    const owner = estate.people.find(({ endpoints }) => endpoints.some(({ id }) => id === device));
    if (owner) return { kind: 'own', endpoint: device };
    note(to, at, `No phone here is called ${device}: it is left out.`);
    return null;
  }
  const bySip = person.endpoints.find((endpoint) => endpoint.uri === url);
  if (bySip) return { kind: 'own', endpoint: bySip.id };
  const target = parameter('target');
  if (target !== undefined) {
    const extension = /^sips?:([^@;]+)/i.exec(target)?.[1] ?? '';
    const whose = estate.people.find(({ lines }) => lines.some((line) => line.extension === extension));
    if (whose)
      return {
        kind: 'ending',
        ending: { kind: 'mailbox', ...(whose.id === person.id ? {} : { person: whose.id }) },
      };
  }
  return byExtension(to, user) ?? { kind: 'ending', ending: { kind: 'sip', uri: url } };
}

function byExtension({ estate }: ScriptReading, digits: string): ScriptPlace | null {
  const called = <T extends { readonly extension: string; readonly numbers?: readonly string[] }>(each: T) =>
    each.extension === digits || (each.numbers ?? []).includes(digits);
  const person = estate.people.find(({ lines }) => lines.some(called));
  if (person) return { kind: 'ending', ending: { kind: 'person', person: person.id } };
  const group = estate.groups.find(called);
  if (group) return { kind: 'ending', ending: { kind: 'group', group: group.id } };
  const menu = estate.menus.find(called);
  return menu ? { kind: 'ending', ending: { kind: 'menu', menu: menu.id } } : null;
}

/** Ends one way through the script: a rule of the plan, or (without a condition) its last treatment. */
function finish(to: ScriptReading, at: Element, way: ScriptWay, ending: Ending): void {
  if (way.never) return;
  const id = `script-${to.rules.length + 1}`;
  to.rules.push({ id, name: `Line ${at.line} of the script`, when: way.when, stages: way.stages, ending });
}

/** Goes through what an element holds: at most one thing to do, after which nothing more is done. */
function walk(to: ScriptReading, holder: Element, way: ScriptWay): void {
  to.steps += 1;
  if (to.steps > MOST_STEPS) stop(holder.line, `comes to more than ${MOST_STEPS} steps`);
  const [first, second] = holder.children;
  if (second) note(to, second, `<${second.name}> stands beside <${first?.name}>: only the first is done.`);
  if (!first) {
    finish(to, holder, way, nothingMore(to, holder, way));
    return;
  }
  switch (first.name) {
    case 'location':
      return atLocation(to, first, way);
    case 'lookup': {
      const source = first.attributes.source ?? '';
      if (source !== 'registration') note(to, first, `Looking up ${source} is left out.`);
      const found = source === 'registration' ? registered(to) : [];
      return walk(to, first.children.find(({ name }) => name === 'success') ?? first, {
        ...way,
        places: first.attributes.clear === 'yes' ? found : [...way.places, ...found],
      });
    }
    case 'remove-location':
      if (first.attributes.location === undefined) return walk(to, first, { ...way, places: [] });
      note(to, first, 'Taking out a single address is left out.');
      return walk(to, first, way);
    case 'proxy':
      return atProxy(to, first, way);
    case 'redirect':
      return finish(to, first, way, endingOf(to, first, way) ?? { kind: 'hang-up', message: 'no address' });
    case 'reject': {
      const { status = 'reject', reason } = first.attributes;
      return finish(to, first, way, { kind: 'hang-up', message: reason ?? status });
    }
    case 'mail':
    case 'log':
      note(to, first, `<${first.name}> is left out: nothing is mailed or logged by a plan.`);
      return walk(to, first, way);
    case 'sub': {
      const ref = first.attributes.ref ?? '';
      const found = to.subactions.get(ref);
      if (!found) return stop(first.line, `names a subaction "${ref}" that is not there`);
      if (way.within.includes(ref)) return stop(first.line, `the subaction "${ref}" leads back to itself`);
      return walk(to, found, { ...way, within: [...way.within, ref] });
    }
    case 'time-switch':
      return atTimes(to, first, way);
    case 'address-switch':
      return atAddresses(to, first, way);
    case 'string-switch':
    case 'language-switch':
    case 'priority-switch':
      note(to, first, `<${first.name}> is left out: what follows is what it does otherwise.`);
      return walk(
        to,
        first.children.find(({ name }) => name === 'otherwise') ?? { ...first, children: [] },
        way,
      );
    default:
      note(to, first, `<${first.name}> is not known and is left out.`);
      return walk(to, { ...first, children: first.children.slice(0, 1) }, way);
  }
}

const registered = ({ person }: ScriptReading): ScriptPlace[] =>
  person.endpoints
    .filter(({ kind }) => !['mobile', 'landline', 'sip'].includes(kind))
    .map(({ id }): ScriptPlace => ({ kind: 'own', endpoint: id }));

/** Where a script has nothing more to say. */
function nothingMore(to: ScriptReading, at: Element, way: ScriptWay): Ending {
  if (way.stages.length > 0) return { kind: 'hang-up', message: 'no answer' };
  note(to, at, 'Nothing is done here: the plan takes a message in the own mailbox.');
  return { kind: 'mailbox' };
}

function atLocation(to: ScriptReading, at: Element, way: ScriptWay): void {
  const { url, clear, priority } = at.attributes;
  if (url === undefined) return stop(at.line, 'a location needs its url');
  if (priority !== undefined && priority !== '1.0')
    note(to, at, 'The priority of an address is left out: all ring together.');
  const place = placeOf(to, at, url);
  const before = clear === 'yes' ? [] : way.places;
  return walk(to, at, { ...way, places: place ? [...before, place] : before });
}

/** The one place where a call ends; null where the addresses are phones to ring or there is none. */
function endingOf(to: ScriptReading, at: Element, { places }: ScriptWay): SimpleEnding | null {
  const endings = places.flatMap((place) => (place.kind === 'ending' ? [place.ending] : []));
  if (endings.length > 1) note(to, at, 'A call can end in one place only: the first address counts.');
  const [first] = endings;
  if (first) return first;
  const [own] = places.flatMap((place) => (place.kind === 'own' ? [place.endpoint] : []));
  return own === undefined ? null : { kind: 'endpoint', endpoint: own };
}

function atProxy(to: ScriptReading, at: Element, way: ScriptWay): void {
  const ring = way.places.flatMap((place): RingTarget[] =>
    place.kind === 'own' ? [{ endpoint: place.endpoint }] : [],
  );
  const output = (name: string) => at.children.find((child) => child.name === name);
  const next = output('noanswer') ?? output('default');
  if (ring.length === 0) {
    const ending = endingOf(to, at, way);
    if (ending) {
      if (next) note(to, at, 'What follows when nobody answers there is left out: the call has ended there.');
      return finish(to, at, way, ending);
    }
    note(to, at, 'There is no address to ring here: the step is left out.');
    return next ? walk(to, next, way) : finish(to, at, way, nothingMore(to, at, way));
  }
  if (ring.length < way.places.length)
    note(to, at, 'Addresses that are none of the organisation’s phones are left out where phones ring.');
  const { timeout, ordering = 'parallel', recurse } = at.attributes;
  const seconds = timeout === undefined ? DEFAULT_TIMEOUT_MS / 1000 : Number(timeout);
  if (!/^\d{1,5}$/.test(timeout ?? '20') || seconds < 1)
    return stop(at.line, `a timeout is seconds from 1 to 99999, not "${timeout}"`);
  if (recurse === 'yes') note(to, at, 'Following redirections is left out.');
  const forMs = seconds * 1000;
  const stages: Stage[] =
    ordering === 'sequential'
      ? ring.map((target) => ({ ring: [target], forMs }))
      : [{ ring: ordering === 'first-only' ? ring.slice(0, 1) : ring, forMs }];
  for (const name of ['busy', 'failure', 'redirection']) {
    const other = output(name);
    if (other && next && JSON.stringify(stripped(other)) !== JSON.stringify(stripped(next)))
      note(to, other, `What happens on ${name} is left out: the plan goes on as when nobody answers.`);
  }
  const after: ScriptWay = { ...way, places: [], stages: [...way.stages, ...stages] };
  const follows = next ?? output('busy') ?? output('failure');
  if (follows) walk(to, follows, after);
  else finish(to, at, after, nothingMore(to, at, after));
}

/** Several cases of a switch, each a condition of its own before what comes otherwise. */
function atTimes(to: ScriptReading, at: Element, way: ScriptWay): void {
  const otherwise = at.children.find(({ name }) => name === 'otherwise') ?? { ...at, children: [] };
  const zone = at.attributes.tzid ?? to.estate.timeZone;
  const cases = at.children.filter(({ name }) => name === 'time');
  const switches = hoursOf(cases, zone, contentKey(otherwise), contentKey);
  for (const { content, hours, notes } of switches) {
    for (const { line, text } of notes) note(to, { line }, text);
    if (!hours) continue;
    const id = scheduleFor(to, hours);
    const inside = whenHours(to, content, way, { id, inside: true });
    if (inside) walk(to, content, inside);
  }
  walk(to, otherwise, way);
}

/** The way with a condition on hours added; null where a plan cannot say both conditions. */
function whenHours(
  to: ScriptReading,
  at: Element,
  way: ScriptWay,
  test: { id: string; inside: boolean },
): ScriptWay | null {
  const { schedule } = way.when;
  if (!schedule) return { ...way, when: { ...way.when, schedule: test } };
  if (schedule.id === test.id) return schedule.inside === test.inside ? way : { ...way, never: true };
  note(to, at, 'Two sets of hours at once are more than a rule can ask for: this part is left out.');
  return null;
}

const hoursKey = ({ timeZone, weekly, closed = [], open = [] }: Omit<Schedule, 'id' | 'name'>) =>
  JSON.stringify([
    timeZone,
    weekly.map(({ days, from, to }) => [[...days].sort(), from, to]).sort(),
    [...closed].sort(),
    open.map(({ date, from, to }) => [date, from, to]).sort(),
  ]);

/** The organisation's schedule with these hours, or a new one that it would need. */
function scheduleFor(to: ScriptReading, hours: Omit<Schedule, 'id' | 'name'>): string {
  const key = hoursKey(hours);
  const known = [...to.estate.schedules, ...to.schedules].find((schedule) => hoursKey(schedule) === key);
  if (known) return known.id;
  const taken = new Set([...to.estate.schedules, ...to.schedules].map(({ id }) => id));
  let n = 1;
  while (taken.has(`script-hours-${n}`)) n += 1;
  const made: Schedule = { id: `script-hours-${n}`, name: `Hours of the script ${n}`, ...hours };
  to.schedules.push(made);
  return made.id;
}

const ASKS_TOO_MUCH = 'This condition on an address is more than a rule can ask for: this part is left out.';

function atAddresses(to: ScriptReading, at: Element, way: ScriptWay): void {
  const { field = '', subfield } = at.attributes;
  const otherwise = at.children.find(({ name }) => name === 'otherwise') ?? { ...at, children: [] };
  const outside = externalOnly(at, otherwise);
  if (outside) {
    const when = withCaller(way.when, { class: 'external' });
    if (when) walk(to, outside.holds, { ...way, when });
    else note(to, at, ASKS_TOO_MUCH);
    return walk(to, outside.rest, way);
  }
  for (const each of at.children) {
    if (each.name === 'otherwise') continue;
    const when =
      each.name === 'not-present'
        ? field === 'origin'
          ? withCaller(way.when, { class: 'anonymous' })
          : null
        : each.name === 'address'
          ? field === 'origin'
            ? originWhen(way.when, each, subfield)
            : destinationWhen(to.person, way.when, each)
          : null;
    if (when === null) {
      note(to, each, ASKS_TOO_MUCH);
      continue;
    }
    walk(to, each, { ...way, when });
  }
  walk(to, otherwise, way);
}

/** Whether a condition asks for nothing, so that no rule after it is ever reached. */
const isAlways = (when: When): boolean => Object.keys(when).length === 0;

/**
 * Reads a CPL script (RFC 3880) as a person's plan: each way through its switches is a rule, and the first that fits
 * decides, as in the script.
 * @param person whose phones and lines the script's addresses are
 * @returns the plan with a list of what could not be carried over, or the script's faults by line
 */
export function readCpl(text: string, person: Person, estate: Estate): ReadCpl {
  try {
    const root = parseScript(text);
    const subactions = new Map<string, Element>();
    for (const each of root.children.filter(({ name }) => name === 'subaction')) {
      const { id } = each.attributes;
      if (id === undefined || subactions.has(id))
        stop(
          each.line,
          id === undefined ? 'a subaction needs an id' : `there is a subaction "${id}" already`,
        );
      else subactions.set(id, each);
    }
    const to: ScriptReading = { person, estate, subactions, notes: [], schedules: [], rules: [], steps: 0 };
    const incoming = root.children.find(({ name }) => name === 'incoming');
    if (!incoming) return stop(root.line, 'has nothing for incoming calls');
    for (const each of root.children)
      if (!['incoming', 'subaction'].includes(each.name))
        note(to, each, `<${each.name}> is left out: a reach plan is for incoming calls.`);
    walk(to, incoming, { when: {}, never: false, places: [], stages: [], within: [] });
    const last = to.rules.findIndex(({ when }) => isAlways(when));
    const { stages, ending } = to.rules[last] ?? { stages: [], ending: { kind: 'mailbox' } as const };
    const rules = joined(last < 0 ? to.rules : to.rules.slice(0, last));
    return {
      ok: true,
      plan: { rules, otherwise: { stages, ending } },
      notes: to.notes,
      schedules: to.schedules,
    };
  } catch (error) {
    const line = (error as { cplLine?: number }).cplLine;
    if (line === undefined) throw error;
    return { ok: false, faults: [{ path: `line ${line}`, message: (error as Error).message }] };
  }
}
