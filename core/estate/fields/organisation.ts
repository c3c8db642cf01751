import { choice, count, flag, id, ms, NAMED, number, object, text, type FieldsOf } from './kinds';
import type { Dialling, MoveTimes, ServiceCode, Settings, SipServer, TollGuard } from '../organisation-types';
import type {
  Group,
  KeptPromise,
  Member,
  Menu,
  MenuRule,
  OpenSpan,
  Permission,
  ReachPromise,
  Schedule,
  Status,
  Trunk,
  WeeklySpan,
} from '../types';
import { dayLimit, screening } from './access';
import { choices, ending, greeting, when } from './plan';

export const permission: FieldsOf<Permission> = {
  ...NAMED,
  allow: choice('may call'),
  allowPrefixes: number('may also call numbers beginning with'),
  denyPrefixes: number('may not call numbers beginning with'),
  dayLimit: object('a day', () => dayLimit),
};
export const trunk: FieldsOf<Trunk> = {
  ...NAMED,
  channels: count('channels'),
  carries: choice('carries'),
  screening: object('numbers that may show', () => screening),
};
export const weekly: FieldsOf<WeeklySpan> = { days: choice('days'), from: text('from'), to: text('to') };
export const open: FieldsOf<OpenSpan> = { date: text('date'), from: text('from'), to: text('to') };
export const schedule: FieldsOf<Schedule> = {
  ...NAMED,
  timeZone: text('time zone'),
  weekly: object('weekly hours', () => weekly),
  closed: text('closed on'),
  open: object('also open', () => open),
};
export const status: FieldsOf<Status> = NAMED;
export const member: FieldsOf<Member> = {
  person: id('person'),
  endpoint: id('phone'),
  seat: id('seat'),
  rank: count('rank'),
};
export const group: FieldsOf<Group> = {
  ...NAMED,
  extension: text('extension'),
  numbers: number('number'),
  mode: choice('order of ringing'),
  members: object('member', () => member),
  ringMs: ms('ring for'),
  permission: id('permission'),
  ending: object('ending', () => ending),
};
export const menuRule: FieldsOf<MenuRule> = {
  id: text('id'),
  when: object('condition', () => when),
  greeting: object('greeting', () => greeting),
  greetingMs: ms('length of the greeting'),
  waitMs: ms('wait for a key'),
  choices: object('key', () => choices),
  otherwise: object('without a key', () => ending),
};
export const menu: FieldsOf<Menu> = {
  ...NAMED,
  extension: text('extension'),
  numbers: number('number'),
  permission: id('permission'),
  rules: object('case', () => menuRule),
};
export const promise: FieldsOf<ReachPromise> = {
  kind: choice('promise'),
  withinMs: ms('within'),
  longestMs: ms('at most'),
  spread: { says: 'carriers’ times may differ by', holds: 'share' },
  schedule: id('hours'),
  status: id('status'),
  allowed: id('may also ring'),
};
export const kept: FieldsOf<KeptPromise> = {
  id: text('id'),
  promise: object('promise', () => promise),
  people: id('for'),
};

export const server: FieldsOf<SipServer> = {
  host: text('server'),
  port: count('port'),
  transport: choice('transport'),
};
export const servers: FieldsOf<NonNullable<Settings['servers']>> = {
  inside: object('at work', () => server),
  outside: object('elsewhere', () => server),
};
export const move: FieldsOf<MoveTimes> = {
  heldMs: ms('a call hung up waits'),
  sendForMs: ms('a call that is sent rings for'),
  toDesk: text('key to the desk'),
  transfer: text('key to transfer'),
};
export const desksSettings: FieldsOf<NonNullable<Settings['desks']>> = {
  graceS: count('signed on after the shift for so many seconds'),
};
export const fraudProtection: FieldsOf<TollGuard> = {
  prefixes: number('watched numbers beginning with'),
  ownTargets: count('outside numbers a person may have'),
};
export const settings: FieldsOf<Settings> = {
  number: number('number of the organisation'),
  ringMs: ms('one ring with its pause'),
  confirmWithinMs: ms('time to confirm'),
  recordNameMs: ms('time to say one’s name'),
  hopLimit: count('forwards in one call'),
  move: object('moving a call', () => move),
  servers: object('where softphones register', () => servers),
  fraudProtection: object('fraud protection', () => fraudProtection),
  desks: object('shared desks', () => desksSettings),
};
export const serviceCode: FieldsOf<ServiceCode> = {
  code: text('code'),
  does: text('what it is for'),
  acts: choice('what the code does'),
};
export const dialling: FieldsOf<Dialling> = {
  country: text('country'),
  areaCodes: text('area code'),
  outsideCode: text('digits for an outside line'),
  nationalPrefix: text('national prefix'),
  localWithPrefix: flag('local calls with the prefix'),
  internationalPrefix: text('international prefix'),
  extensionDigits: count('digits of an extension'),
  codes: object('code', () => serviceCode),
};
