import { XMLBuilder } from 'fast-xml-parser';
import { DateTime } from 'luxon';
import { telUri } from '../calls/dialling';
import {
  WEEKDAYS,
  type Ending,
  type Estate,
  type Person,
  type RingTarget,
  type Rule,
  type Schedule,
  type SimpleEnding,
  type Stage,
  type Treatment,
} from '../estate';

/**
 * A reach plan as a script of the Call Processing Language (RFC 3880). Phones that register are written as GRUUs
 * (RFC 5627), mailboxes as voicemail URIs (RFC 4458), numbers as `tel` URIs (RFC 3966). What CPL has no words for is
 * left out and listed.
 */
export const CPL_NAMESPACE = 'urn:ietf:params:xml:ns:cpl';

export interface WrittenCpl {
  readonly xml: string;
  /** What the script cannot say, each once, in the order of the plan. */
  readonly notes: readonly string[];
}

/** One element in the shape that the builder takes: its name with its children, and its attributes. */
type ScriptNode = Readonly<Record<string, unknown>>;

const node = (
  name: string,
  attributes: Readonly<Record<string, string>>,
  ...children: ScriptNode[]
): ScriptNode => ({
  [name]: children,
  ...(Object.keys(attributes).length > 0 ? { ':@': attributes } : {}),
});

const BYDAY = { mon: 'MO', tue: 'TU', wed: 'WE', thu: 'TH', fri: 'FR', sat: 'SA', sun: 'SU' } as const;
/** A Monday long past, from which weekly times recur. */
const FIRST_MONDAY = '2024-01-01';
const localStamp = (date: string, hhmm: string) => `${date.replaceAll('-', '')}T${hhmm.replace(':', '')}00`;
const dayAfter = (date: string) =>
  DateTime.fromISO(date, { zone: 'utc' }).plus({ days: 1 }).toISODate() ?? date;
const minutesOf = (hhmm: string) => Number(hhmm.slice(0, 2)) * 60 + Number(hhmm.slice(3));

/** How long a span lasts on the clock, as an iCalendar duration. */
function durationOf(from: string, to: string): string {
  const minutes = (((minutesOf(to) - minutesOf(from)) % 1440) + 1440) % 1440 || 1440;
  const [hours, rest] = [Math.floor(minutes / 60), minutes % 60];
  return `PT${hours > 0 ? `${hours}H` : ''}${rest > 0 ? `${rest}M` : ''}`;
}

interface Writing {
  readonly person: Person;
  readonly estate: Estate;
  readonly domain: string;
  readonly notes: Set<string>;
  readonly subactions: ScriptNode[];
}

/** Puts what is needed in more than one place where all can name it, and gives what names it. */
function shared(to: Writing, content: readonly ScriptNode[]): ScriptNode[] {
  if (content.length === 1 && 'sub' in content[0]!) return [...content];
  const id = `s${to.subactions.length + 1}`;
  to.subactions.push(node('subaction', { id }, ...content));
  return [node('sub', { ref: id })];
}

const lineOf = (person: Person | undefined) => person?.lines[0]?.extension;

function phoneUri(to: Writing, id: string): string | null {
  const owner = to.estate.people.find((person) => person.endpoints.some((endpoint) => endpoint.id === id));
  const endpoint = owner?.endpoints.find((each) => each.id === id);
  if (!owner || !endpoint) return null;
  if (endpoint.number) return telUri(endpoint.number);
  if (endpoint.uri) return endpoint.uri;
  return `sip:${lineOf(owner) ?? owner.id}@${to.domain};gr=${encodeURIComponent(id)}`;
}

function endingUri(to: Writing, ending: SimpleEnding): string | null {
  const at = (extension: string | undefined) => (extension ? `sip:${extension}@${to.domain}` : null);
  switch (ending.kind) {
    case 'mailbox': {
      const whose = at(lineOf(to.estate.people.find(({ id }) => id === (ending.person ?? to.person.id))));
      return whose && `sip:voicemail@${to.domain};target=${encodeURIComponent(whose)}`;
    }
    case 'person':
      return at(lineOf(to.estate.people.find(({ id }) => id === ending.person)));
    case 'group':
      return at(to.estate.groups.find(({ id }) => id === ending.group)?.extension);
    case 'menu':
      return at(to.estate.menus.find(({ id }) => id === ending.menu)?.extension);
    case 'number':
      return telUri(ending.number);
    case 'sip':
      return ending.uri;
    case 'endpoint':
      return phoneUri(to, ending.endpoint);
    case 'hang-up':
      return null;
  }
}

function endingNodes(to: Writing, ending: Ending): ScriptNode[] {
  if (ending.kind === 'queue') {
    to.notes.add('A queue is left out: its ending follows at once.');
    return endingNodes(to, ending.then);
  }
  if ('present' in ending && ending.present !== undefined) to.notes.add('The caller ID is left out.');
  const url = endingUri(to, ending);
  if (url) return [node('location', { url, clear: 'yes' }, node('proxy', {}))];
  const reason = ending.kind === 'hang-up' ? ending.message : '';
  return [node('reject', { status: 'reject', ...(reason ? { reason } : {}) })];
}

/** What of a target CPL has no words for. */
function targetNotes(to: Writing, target: RingTarget, label: string): void {
  const lost: readonly (readonly [boolean, string])[] = [
    [(target.delayMs ?? 0) > 0, `the delay of ${(target.delayMs ?? 0) / 1000} s`],
    [(target.acceptAfterMs ?? 0) > 0, 'the answer guard'],
    [(target.giveUpAfterMs ?? null) !== null, 'a phone that stops ringing before the step'],
    [(target.confirm ?? 'none') !== 'none', 'confirming with a key'],
    [target.present !== undefined, 'caller ID'],
    [target.arrivals !== undefined, 'how the call has come'],
    [target.onlyQuality !== undefined, 'how well its line was measured'],
    [
      target.whileRegistered !== undefined || target.unlessRegistered !== undefined,
      'whether another phone is registered',
    ],
  ];
  for (const [is, what] of lost) if (is) to.notes.add(`${label}: ${what} is left out.`);
}

/** The switch for a schedule: what is done inside it and what outside. */
function timeSwitch(
  to: Writing,
  schedule: Schedule,
  inside: readonly ScriptNode[],
  outside: readonly ScriptNode[],
): ScriptNode[] {
  const within = schedule.open?.length || schedule.weekly.length > 1 ? shared(to, inside) : [...inside];
  const without = schedule.closed?.length ? shared(to, outside) : [...outside];
  const closed = schedule.closed ?? [];
  if (closed.length > 0 && schedule.weekly.some((span) => span.to <= span.from))
    to.notes.add(
      `${schedule.name}: a span past midnight that would begin on a closed day is not shortened after that midnight.`,
    );
  return [
    node(
      'time-switch',
      { tzid: schedule.timeZone },
      ...(schedule.open ?? []).map(({ date, from, to: until }) =>
        node(
          'time',
          {
            dtstart: localStamp(date, from),
            dtend: localStamp(until <= from ? dayAfter(date) : date, until),
          },
          ...within,
        ),
      ),
      ...closed.map((date) =>
        node(
          'time',
          { dtstart: localStamp(date, '00:00'), dtend: localStamp(dayAfter(date), '00:00') },
          ...without,
        ),
      ),
      ...schedule.weekly
        .filter(({ days }) => days.length > 0)
        .map(({ days, from, to: until }) =>
          node(
            'time',
            {
              dtstart: localStamp(FIRST_MONDAY, from),
              duration: durationOf(from, until),
              freq: 'weekly',
              byday: WEEKDAYS.filter((day) => days.includes(day))
                .map((day) => BYDAY[day])
                .join(','),
            },
            ...within,
          ),
        ),
      node('otherwise', {}, ...without),
    ),
  ];
}

const byTest = (
  to: Writing,
  test: { readonly id: string; readonly inside: boolean } | undefined,
  holds: readonly ScriptNode[],
  not: readonly ScriptNode[],
): ScriptNode[] => {
  const schedule = test && to.estate.schedules.find(({ id }) => id === test.id);
  if (!schedule) return [...holds];
  return test.inside ? timeSwitch(to, schedule, holds, not) : timeSwitch(to, schedule, not, holds);
};

function ringNodes(
  to: Writing,
  targets: readonly RingTarget[],
  forMs: number,
  next: readonly ScriptNode[],
): ScriptNode[] {
  const proxy = node(
    'proxy',
    { timeout: String(Math.max(1, Math.round(forMs / 1000))), ordering: 'parallel' },
    node('default', {}, ...next),
  );
  if (forMs % 1000 !== 0) to.notes.add('Ring times are whole seconds in a script: some are rounded.');
  const rung = targets.filter(({ enabled }) => enabled !== false);
  // From the last target to the first, each around what comes after it; the first empties what was there before.
  return rung.reduceRight<ScriptNode[]>(
    (inner, target, i) => {
      const owner = to.estate.people.find((person) =>
        person.endpoints.some(({ id }) => id === target.endpoint),
      );
      const label = owner?.endpoints.find(({ id }) => id === target.endpoint)?.label ?? target.endpoint;
      const url = phoneUri(to, target.endpoint);
      if (!url) return inner;
      targetNotes(to, target, owner?.id === to.person.id ? label : `${owner?.name}: ${label}`);
      const clear: Record<string, string> = i === 0 ? { clear: 'yes' } : {};
      if (!target.schedule) return [node('location', { url, ...clear }, ...inner)];
      const after = shared(to, inner);
      return byTest(to, target.schedule, [node('location', { url, ...clear }, ...after)], after);
    },
    [proxy],
  );
}

function treatmentNodes(to: Writing, treatment: Treatment): ScriptNode[] {
  if (treatment.busy !== undefined)
    to.notes.add('What happens when the person is busy is left out: a script does not count calls.');
  return treatment.stages.reduceRight<ScriptNode[]>(
    (next, stage: Stage) => {
      if ('offer' in stage) {
        to.notes.add('Choices offered to the caller are left out: a script takes no keys.');
        return next;
      }
      if ('code' in stage) {
        to.notes.add('The code asked of the caller is left out, and nobody is turned away for want of it.');
        return next;
      }
      return stage.ring.some(({ enabled }) => enabled !== false)
        ? ringNodes(to, stage.ring, stage.forMs, next)
        : next;
    },
    endingNodes(to, treatment.ending),
  );
}

/** Switches on the address that calls, or that was called. */
const addressSwitch = (
  field: 'origin' | 'original-destination',
  subfield: 'tel' | 'user' | 'host' | null,
  cases: readonly ScriptNode[],
  otherwise: readonly ScriptNode[],
): ScriptNode =>
  node(
    'address-switch',
    { field, ...(subfield ? { subfield } : {}) },
    ...cases,
    node('otherwise', {}, ...otherwise),
  );

function callerNodes(
  to: Writing,
  caller: NonNullable<Rule['when']['caller']>,
  holds: ScriptNode[],
  rest: ScriptNode[],
): ScriptNode[] {
  const inside = (yes: ScriptNode[], no: ScriptNode[]) =>
    addressSwitch('origin', 'host', [node('address', { 'subdomain-of': to.domain }, ...yes)], no);
  switch (caller.class) {
    case 'anonymous':
      return [addressSwitch('origin', null, [node('not-present', {}, ...holds)], rest)];
    case 'internal':
      return [inside(holds, rest)];
    case 'external': {
      const not = shared(to, rest);
      return [addressSwitch('origin', null, [node('not-present', {}, ...not)], [inside(not, holds)])];
    }
    case 'listed': {
      const yes = shared(to, holds);
      const numbers = caller.numbers ?? [];
      const tel = numbers.filter((number) => number.startsWith('+'));
      const user = numbers.filter((number) => !number.startsWith('+'));
      const byUser = user.length
        ? [
            addressSwitch(
              'origin',
              'user',
              user.map((is) => node('address', { is }, ...yes)),
              rest,
            ),
          ]
        : rest;
      return tel.length
        ? [
            addressSwitch(
              'origin',
              'tel',
              tel.map((prefix) => node('address', { 'subdomain-of': prefix }, ...yes)),
              byUser,
            ),
          ]
        : byUser;
    }
  }
}

/** A rule before the rest; null where a script cannot tell when it holds. */
function ruleNodes(to: Writing, rule: Rule, rest: readonly ScriptNode[]): ScriptNode[] {
  const { status, schedule, line, caller, arrival } = rule.when;
  if (status && !status.includes(to.person.status)) {
    to.notes.add(
      `The rule “${rule.name}” is left out: it is for another status than ${to.person.name} has now.`,
    );
    return [...rest];
  }
  if (status) to.notes.add(`The rule “${rule.name}” holds in the script whatever the status: it knows none.`);
  if (arrival && !arrival.includes('direct')) {
    to.notes.add(`The rule “${rule.name}” is left out: a script does not know how a call has come.`);
    return [...rest];
  }
  if (arrival) to.notes.add(`The rule “${rule.name}” holds in the script however the call has come.`);
  const conditional = Boolean(schedule || line || caller);
  const elsewhere = conditional ? shared(to, rest) : [];
  let nodes = treatmentNodes(to, rule);
  if (caller) nodes = callerNodes(to, caller, nodes, elsewhere);
  if (line) {
    const called = to.person.lines.filter(({ id }) => line.includes(id));
    const yes = shared(to, nodes);
    nodes = [
      addressSwitch(
        'original-destination',
        'user',
        called.flatMap(({ extension, numbers }) =>
          [extension, ...numbers].map((is) => node('address', { is }, ...yes)),
        ),
        elsewhere,
      ),
    ];
  }
  return byTest(to, schedule, nodes, elsewhere);
}

/**
 * Writes a person's plan as a CPL script.
 * @param domain the domain of the organisation's SIP addresses
 */
export function writeCpl(person: Person, estate: Estate, domain = 'phones.invalid'): WrittenCpl {
  const to: Writing = { person, estate, domain, notes: new Set(), subactions: [] };
  const incoming = person.plan.rules.reduceRight<ScriptNode[]>(
    (rest, rule) => ruleNodes(to, rule, rest),
    treatmentNodes(to, person.plan.otherwise),
  );
  const builder = new XMLBuilder({
    preserveOrder: true,
    ignoreAttributes: false,
    attributeNamePrefix: '',
    format: true,
    indentBy: '  ',
    suppressEmptyNode: true,
  });
  const body = builder.build([
    node('cpl', { xmlns: CPL_NAMESPACE }, ...to.subactions, node('incoming', {}, ...incoming)),
  ]) as string;
  return {
    xml: `<?xml version="1.0" encoding="UTF-8"?>\n${body.trim()}\n`,
    notes: [...to.notes],
  };
}
