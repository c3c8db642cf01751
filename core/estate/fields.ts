import type { Device, PhoneKey, Site } from './device-types';
import type { Dialling, MoveTimes, ServiceCode, Settings, SipServer, TollGuard } from './organisation-types';
import type {
  Branch,
  NumberList,
  Peer,
  Rewrite,
  Route,
  RouteTable,
  RouteThen,
  RouteWhen,
} from './table-types';
import type {
  CallerTest,
  Choice,
  CodeStage,
  Endpoint,
  Ending,
  Estate,
  Greeting,
  Group,
  KeptPromise,
  Line,
  Mailbox,
  Member,
  Menu,
  MenuRule,
  OfferStage,
  OpenSpan,
  Permission,
  Person,
  Plan,
  ReachPromise,
  RingTarget,
  Rule,
  Said,
  Schedule,
  ScheduleTest,
  Stage,
  Status,
  Template,
  Treatment,
  Trunk,
  WeeklySpan,
  When,
} from './types';

/**
 * What a setting holds, which is how it is shown: `ms` a length of time, `count` a number of things, `share` a part of
 * one, `flag` yes or no, `number` a telephone number, `choice` one of a few words, `id` something of the estate by its
 * id, `text` anything written, and `object` what has settings of its own.
 */
export type Holds = 'ms' | 'count' | 'share' | 'flag' | 'number' | 'choice' | 'id' | 'text' | 'object';

/** One setting: what the trade calls it, what it holds, and of an object or a list of objects, their settings. */
export interface Field {
  readonly says: string;
  readonly holds: Holds;
  readonly of?: () => Fields;
}
export type Fields = Readonly<Record<string, Field>>;

type KeysOf<T> = T extends unknown ? keyof T & string : never;
/** A line for each setting of a kind of object: one that is left out, or is none, does not compile. */
type FieldsOf<T> = { readonly [K in KeysOf<T>]-?: Field };

const ms = (says: string): Field => ({ says, holds: 'ms' });
const count = (says: string): Field => ({ says, holds: 'count' });
const flag = (says: string): Field => ({ says, holds: 'flag' });
const number = (says: string): Field => ({ says, holds: 'number' });
const choice = (says: string): Field => ({ says, holds: 'choice' });
const id = (says: string): Field => ({ says, holds: 'id' });
const text = (says: string): Field => ({ says, holds: 'text' });
const object = (says: string, of: () => Fields): Field => ({ says, holds: 'object', of });

const NAMED = { id: text('id'), name: text('name') };

const scheduleTest: FieldsOf<ScheduleTest> = { id: id('hours'), inside: flag('inside the hours') };
const callerTest: FieldsOf<CallerTest> = { class: choice('kind of caller'), numbers: number('number') };
const when: FieldsOf<When> = {
  status: id('status'),
  schedule: object('hours', () => scheduleTest),
  line: id('line'),
  caller: object('caller', () => callerTest),
  arrival: choice('how the call came'),
};

const ending: FieldsOf<Ending> = {
  kind: choice('ending'),
  person: id('person'),
  endpoint: id('phone'),
  number: number('number'),
  uri: text('SIP address'),
  group: id('group'),
  menu: id('menu'),
  message: text('message'),
  present: text('caller ID'),
  agreedOn: text('agreed on'),
  maxMs: ms('longest wait in the queue'),
  then: object('after the queue', () => ending),
};
const said: FieldsOf<Said> = { key: text('key'), leads: choice('leads to'), whom: id('whom') };
const greeting: FieldsOf<Greeting> = { text: text('words'), says: object('key it names', () => said) };
const choices: FieldsOf<Choice<unknown>> = {
  key: text('key'),
  then: object('what the key does', () => ending),
};
const target: FieldsOf<RingTarget> = {
  endpoint: id('phone'),
  enabled: flag('rings'),
  delayMs: ms('delay'),
  acceptAfterMs: ms('answer guard'),
  giveUpAfterMs: ms('stop ringing after'),
  confirm: choice('confirm with'),
  present: text('caller ID'),
  arrivals: choice('only calls that came'),
  schedule: object('hours', () => scheduleTest),
  onlyWhile: id('only while registered'),
  onlyUnless: id('only unless registered'),
  agreedOn: text('agreed on'),
};
const offer: FieldsOf<OfferStage['offer']> = {
  greeting: object('greeting', () => greeting),
  greetingMs: ms('length of the greeting'),
  waitMs: ms('wait for a key'),
  choices: object('key', () => choices),
};
const code: FieldsOf<CodeStage['code']> = {
  digits: text('code'),
  withinMs: ms('time for the code'),
  wrong: object('after a wrong code', () => ending),
};
const stage: FieldsOf<Stage> = {
  ring: object('rings', () => target),
  forMs: ms('ring for'),
  offer: object('offer', () => offer),
  code: object('caller code', () => code),
};
const treatment: FieldsOf<Treatment> = {
  stages: object('step', () => stage),
  ending: object('ending', () => ending),
  busy: object('when busy', () => ending),
};
const rule: FieldsOf<Rule> = { ...NAMED, ...treatment, when: object('condition', () => when) };
const plan: FieldsOf<Plan> = {
  rules: object('rule', () => rule),
  otherwise: object('default rule', () => treatment),
};
const line: FieldsOf<Line> = {
  id: text('id'),
  extension: text('extension'),
  numbers: number('number'),
  forwardAll: object('forward all calls', () => ending),
  forwardUntil: text('forward all calls until'),
  forwardAfter: object('forward all calls after that', () => ending),
};
const endpoint: FieldsOf<Endpoint> = {
  id: text('id'),
  label: text('name'),
  kind: choice('kind of phone'),
  number: number('number'),
  afterAnswer: text('digits after the answer'),
  uri: text('SIP address'),
  setupMs: ms('connecting takes'),
  mailboxAfterMs: ms('mobile carrier’s voicemail answers after'),
  offAnswerMs: ms('voicemail of a phone that is off answers after'),
  wakes: flag('is woken by push'),
  wakeMs: ms('waking takes'),
};
const mailbox: FieldsOf<Mailbox> = {
  enabled: flag('voicemail on'),
  copyTo: id('copy to'),
  greeting: object('greeting', () => greeting),
};
const place: FieldsOf<NonNullable<Person['places']>[number]> = {
  status: id('status'),
  endpoint: id('phone'),
};
const person: FieldsOf<Person> = {
  ...NAMED,
  status: id('status'),
  permission: id('permission'),
  maxCalls: count('calls at once'),
  template: id('template'),
  mailbox: object('mailbox', () => mailbox),
  lines: object('line', () => line),
  endpoints: object('phone', () => endpoint),
  places: object('calls from', () => place),
  plan: object('reach plan', () => plan),
};
const template: FieldsOf<Template> = {
  ...NAMED,
  note: text('whom it is for'),
  plan: object('reach plan', () => plan),
};

const permission: FieldsOf<Permission> = {
  ...NAMED,
  allow: choice('may call'),
  allowPrefixes: number('may also call numbers beginning with'),
  denyPrefixes: number('may not call numbers beginning with'),
};
const trunk: FieldsOf<Trunk> = { ...NAMED, channels: count('channels'), carries: choice('carries') };
const weekly: FieldsOf<WeeklySpan> = { days: choice('days'), from: text('from'), to: text('to') };
const open: FieldsOf<OpenSpan> = { date: text('date'), from: text('from'), to: text('to') };
const schedule: FieldsOf<Schedule> = {
  ...NAMED,
  timeZone: text('time zone'),
  weekly: object('weekly hours', () => weekly),
  closed: text('closed on'),
  open: object('also open', () => open),
};
const status: FieldsOf<Status> = NAMED;
const member: FieldsOf<Member> = { person: id('person'), endpoint: id('phone') };
const group: FieldsOf<Group> = {
  ...NAMED,
  extension: text('extension'),
  numbers: number('number'),
  mode: choice('order of ringing'),
  members: object('member', () => member),
  ringMs: ms('ring for'),
  permission: id('permission'),
  ending: object('ending', () => ending),
};
const menuRule: FieldsOf<MenuRule> = {
  id: text('id'),
  when: object('condition', () => when),
  greeting: object('greeting', () => greeting),
  greetingMs: ms('length of the greeting'),
  waitMs: ms('wait for a key'),
  choices: object('key', () => choices),
  otherwise: object('without a key', () => ending),
};
const menu: FieldsOf<Menu> = {
  ...NAMED,
  extension: text('extension'),
  numbers: number('number'),
  permission: id('permission'),
  rules: object('case', () => menuRule),
};
const promise: FieldsOf<ReachPromise> = {
  kind: choice('promise'),
  withinMs: ms('within'),
  longestMs: ms('at most'),
  spread: { says: 'carriers’ times may differ by', holds: 'share' },
  schedule: id('hours'),
  status: id('status'),
  allowed: id('may also ring'),
};
const kept: FieldsOf<KeptPromise> = {
  id: text('id'),
  promise: object('promise', () => promise),
  people: id('for'),
};

const server: FieldsOf<SipServer> = {
  host: text('server'),
  port: count('port'),
  transport: choice('transport'),
};
const servers: FieldsOf<NonNullable<Settings['servers']>> = {
  inside: object('at work', () => server),
  outside: object('elsewhere', () => server),
};
const move: FieldsOf<MoveTimes> = {
  heldMs: ms('a call hung up waits'),
  sendForMs: ms('a call that is sent rings for'),
  toDesk: text('key to the desk'),
  transfer: text('key to transfer'),
};
const guard: FieldsOf<TollGuard> = {
  prefixes: number('watched numbers beginning with'),
  ownTargets: count('outside numbers a person may have'),
};
const settings: FieldsOf<Settings> = {
  ringMs: ms('one ring with its pause'),
  confirmWithinMs: ms('time to confirm'),
  recordNameMs: ms('time to say one’s name'),
  hopLimit: count('forwards in one call'),
  move: object('moving a call', () => move),
  servers: object('where softphones register', () => servers),
  guard: object('toll-fraud guard', () => guard),
};
const serviceCode: FieldsOf<ServiceCode> = {
  code: text('code'),
  does: text('what it is for'),
  acts: choice('what the code does'),
};
const dialling: FieldsOf<Dialling> = {
  country: text('country'),
  areaCodes: text('area code'),
  outsideCode: text('digits for an outside line'),
  nationalPrefix: text('national prefix'),
  localWithPrefix: flag('local calls with the prefix'),
  internationalPrefix: text('international prefix'),
  extensionDigits: count('digits of an extension'),
  codes: object('code', () => serviceCode),
};

const relay: FieldsOf<NonNullable<Site['relay']>> = {
  device: id('relay phone'),
  alwaysOn: flag('always on'),
};
const site: FieldsOf<Site> = {
  ...NAMED,
  kind: choice('kind of site'),
  address: text('address'),
  sipHelper: choice('SIP ALG of the router'),
  stableAddress: flag('outside address stays the same'),
  relay: object('branch relay', () => relay),
};
const key: FieldsOf<PhoneKey> = {
  at: count('key'),
  use: choice('what the key is for'),
  extension: text('extension'),
  person: id('person'),
  number: number('number'),
  label: text('label'),
};
const signedOn: FieldsOf<NonNullable<Device['signedOn']>> = { person: id('person'), since: text('since') };
const device: FieldsOf<Device> = {
  ...NAMED,
  model: text('model'),
  hardwareAddress: text('MAC address'),
  endpoint: id('used as'),
  site: id('site'),
  firmware: text('firmware'),
  passwordChanged: flag('factory password changed'),
  natMethod: choice('through NAT with'),
  letIn: flag('remote registration allowed'),
  keys: object('key', () => key),
  signedOn: object('signed on', () => signedOn),
};

const rewrite: FieldsOf<Rewrite> = { drop: count('digits taken off'), prepend: text('digits put before') };
const sendsBack: FieldsOf<NonNullable<Peer['sendsBack']>> = { rewrite: object('rewrite', () => rewrite) };
const peer: FieldsOf<Peer> = {
  ...NAMED,
  role: text('role'),
  expects: choice('form of numbers'),
  limit: count('calls at once'),
  trunk: id('trunk'),
  sendsBack: object('sends calls back', () => sendsBack),
};
const list: FieldsOf<NumberList> = { ...NAMED, numbers: number('number') };
const dialled: FieldsOf<NonNullable<RouteWhen['dialled']>> = {
  prefixes: text('beginning with'),
  map: text('digit map'),
  minDigits: count('digits at least'),
  maxDigits: count('digits at most'),
};
const routeCaller: FieldsOf<NonNullable<RouteWhen['caller']>> = { prefixes: number('beginning with') };
const routeList: FieldsOf<NonNullable<RouteWhen['list']>> = { id: id('list'), of: choice('which number') };
const routeWhen: FieldsOf<RouteWhen> = {
  from: id('from'),
  dialled: object('dialled number', () => dialled),
  caller: object('caller', () => routeCaller),
  list: object('number on a list', () => routeList),
  schedule: object('hours', () => scheduleTest),
};
const branch: FieldsOf<Branch> = {
  peer: id('peer'),
  rewrite: object('rewrite', () => rewrite),
  delayMs: ms('delay'),
};
type Then<K extends string> = Extract<RouteThen, Readonly<Record<K, unknown>>>[K &
  keyof Extract<RouteThen, Readonly<Record<K, unknown>>>];
const send: FieldsOf<Then<'send'>> = {
  peer: id('peer'),
  rewrite: object('rewrite', () => rewrite),
  orElse: id('or else to'),
};
const fork: FieldsOf<Then<'fork'>> = { branches: object('branch', () => branch) };
const change: FieldsOf<Then<'rewrite'>> = {
  rewrite: object('dialled number', () => rewrite),
  caller: object('caller', () => rewrite),
};
const refuse: FieldsOf<Then<'refuse'>> = { cause: count('cause') };
const then: FieldsOf<RouteThen> = {
  send: object('send', () => send),
  fork: object('fork', () => fork),
  rewrite: object('rewrite', () => change),
  refuse: object('refuse', () => refuse),
};
const route: FieldsOf<Route> = {
  ...NAMED,
  enabled: flag('on'),
  when: object('condition', () => routeWhen),
  then: object('what it does', () => then),
};
const table: FieldsOf<RouteTable> = {
  peers: object('peer', () => peer),
  lists: object('list of numbers', () => list),
  routes: object('route', () => route),
  lines: id('where own lines are'),
  hopLimit: count('rewrites in one call'),
};

const estate: FieldsOf<Estate> = {
  format: text('format'),
  name: text('name of the organisation'),
  timeZone: text('time zone'),
  settings: object('times', () => settings),
  dialling: object('dialling', () => dialling),
  permissions: object('permission', () => permission),
  trunks: object('trunk', () => trunk),
  schedules: object('hours', () => schedule),
  statuses: object('status', () => status),
  people: object('person', () => person),
  groups: object('group', () => group),
  menus: object('menu', () => menu),
  promises: object('promise', () => kept),
  templates: object('template', () => template),
  sites: object('site', () => site),
  devices: object('phone', () => device),
  routing: object('route table', () => table),
};

/** The settings of each kind of thing that changes as a whole. */
export const FIELDS = {
  person,
  template,
  permission,
  trunk,
  schedule,
  status,
  group,
  menu,
  promises: kept,
  site,
  device,
  route,
  peer,
  list,
  settings,
  dialling,
  routing: table,
  estate,
} as const satisfies Readonly<Record<string, Fields>>;
export type FieldsKind = keyof typeof FIELDS;
export const isFieldsKind = (kind: string): kind is FieldsKind => Object.hasOwn(FIELDS, kind);

/** The settings that a path names one after the other; null: it is no path of these. */
function walk(fields: Fields, path: string): readonly Field[] | null {
  const found: Field[] = [];
  let at: Fields | undefined = fields;
  for (const part of path
    .replace(/\[[^\]]*\]/g, '')
    .split('.')
    .filter(Boolean)) {
    // The order of a list is a change of the list itself.
    if (part === 'order' && at && !Object.hasOwn(at, part)) break;
    const field: Field | undefined = at && Object.hasOwn(at, part) ? at[part] : undefined;
    if (!field) return null;
    found.push(field);
    at = field.of?.();
  }
  return found;
}

/**
 * The settings that a path such as `plan.rules[r-office].stages[0].forMs` names, from the outermost in.
 * @param kind what the path begins at; left out: the first kind that has such a path
 * @returns empty where no kind has it
 */
export function fieldsAt(path: string, kind?: FieldsKind): readonly Field[] {
  if (kind) {
    const found = walk(FIELDS[kind], path);
    if (found) return found;
  }
  for (const fields of Object.values(FIELDS)) {
    const found = walk(fields, path);
    if (found) return found;
  }
  return [];
}
