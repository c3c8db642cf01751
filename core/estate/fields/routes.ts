import { NAMED, choice, count, flag, id, ms, number, object, text, type FieldsOf } from './kinds';
import type {
  Branch,
  NumberList,
  Peer,
  Rewrite,
  Route,
  KeptRouteTable,
  RouteThen,
  RouteWhen,
} from '../table-types';
import { scheduleTest } from './plan';

export const rewrite: FieldsOf<Rewrite> = {
  drop: count('digits taken off'),
  prepend: text('digits put before'),
};
export const sendsBack: FieldsOf<NonNullable<Peer['sendsBack']>> = {
  rewrite: object('rewrite', () => rewrite),
};
export const peer: FieldsOf<Peer> = {
  ...NAMED,
  role: text('role'),
  expects: choice('form of numbers'),
  limit: count('calls at once'),
  trunk: id('trunk'),
  sendsBack: object('sends calls back', () => sendsBack),
};
export const list: FieldsOf<NumberList> = { ...NAMED, numbers: number('number') };
export const dialled: FieldsOf<NonNullable<RouteWhen['dialled']>> = {
  prefixes: text('beginning with'),
  map: text('digit map'),
  minDigits: count('digits at least'),
  maxDigits: count('digits at most'),
};
export const routeCaller: FieldsOf<NonNullable<RouteWhen['caller']>> = { prefixes: number('beginning with') };
export const routeList: FieldsOf<NonNullable<RouteWhen['list']>> = {
  id: id('list'),
  of: choice('which number'),
};
export const routeWhen: FieldsOf<RouteWhen> = {
  from: id('from'),
  dialled: object('dialled number', () => dialled),
  caller: object('caller', () => routeCaller),
  list: object('number on a list', () => routeList),
  schedule: object('hours', () => scheduleTest),
};
export const branch: FieldsOf<Branch> = {
  peer: id('peer'),
  rewrite: object('rewrite', () => rewrite),
  delayMs: ms('delay'),
};
type Then<K extends string> = Extract<RouteThen, Readonly<Record<K, unknown>>>[K &
  keyof Extract<RouteThen, Readonly<Record<K, unknown>>>];
export const send: FieldsOf<Then<'send'>> = {
  peer: id('peer'),
  rewrite: object('rewrite', () => rewrite),
  orElse: id('or else to'),
};
export const fork: FieldsOf<Then<'fork'>> = { branches: object('branch', () => branch) };
export const change: FieldsOf<Then<'rewrite'>> = {
  rewrite: object('dialled number', () => rewrite),
  caller: object('caller', () => rewrite),
};
export const refuse: FieldsOf<Then<'refuse'>> = { cause: count('cause') };
export const then: FieldsOf<RouteThen> = {
  send: object('send', () => send),
  fork: object('fork', () => fork),
  rewrite: object('rewrite', () => change),
  refuse: object('refuse', () => refuse),
};
export const route: FieldsOf<Route> = {
  ...NAMED,
  enabled: flag('on'),
  when: object('condition', () => routeWhen),
  then: object('what it does', () => then),
};
export const table: FieldsOf<KeptRouteTable> = {
  peers: object('peer', () => peer),
  lists: object('list of numbers', () => list),
  routes: object('route', () => route),
  lines: id('where own lines are'),
  hopLimit: count('rewrites in one call'),
};
