import { saidPlace } from './civic';
import type { Showing } from '../access-types';
import { appPath } from './network';
import { roster } from './desks';
import { NAMED, choice, count, flag, id, ms, number, object, text, type FieldsOf } from './kinds';
import type {
  CallerTest,
  Choice,
  CodeStage,
  Ending,
  Endpoint,
  Greeting,
  Line,
  Mailbox,
  OfferStage,
  Person,
  Plan,
  RingTarget,
  Rule,
  GreetingKey,
  ScheduleTest,
  Stage,
  Template,
  Treatment,
  When,
} from '../types';

export const scheduleTest: FieldsOf<ScheduleTest> = { id: id('hours'), inside: flag('inside the hours') };
export const callerTest: FieldsOf<CallerTest> = {
  class: choice('kind of caller'),
  numbers: number('number'),
};
export const when: FieldsOf<When> = {
  status: id('status'),
  schedule: object('hours', () => scheduleTest),
  line: id('line'),
  caller: object('caller', () => callerTest),
  arrival: choice('how the call came'),
};

export const ending: FieldsOf<Ending> = {
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
export const said: FieldsOf<GreetingKey> = { key: text('key'), leads: choice('leads to'), whom: id('whom') };
export const greeting: FieldsOf<Greeting> = { text: text('words'), says: object('key it names', () => said) };
export const choices: FieldsOf<Choice<unknown>> = {
  key: text('key'),
  then: object('what the key does', () => ending),
};
export const target: FieldsOf<RingTarget> = {
  endpoint: id('phone'),
  enabled: flag('rings'),
  switchedOff: flag('off with the whole phone'),
  delayMs: ms('delay'),
  acceptAfterMs: ms('answer guard'),
  giveUpAfterMs: ms('stop ringing after'),
  confirm: choice('confirm with'),
  present: text('caller ID'),
  arrivals: choice('only calls that came'),
  schedule: object('hours', () => scheduleTest),
  whileRegistered: id('only while registered'),
  unlessRegistered: id('only unless registered'),
  onlyQuality: count('only where its line is at least'),
  agreedOn: text('agreed on'),
};
export const offer: FieldsOf<OfferStage['offer']> = {
  greeting: object('greeting', () => greeting),
  greetingMs: ms('length of the greeting'),
  waitMs: ms('wait for a key'),
  choices: object('key', () => choices),
};
export const code: FieldsOf<CodeStage['code']> = {
  digits: text('code'),
  withinMs: ms('time for the code'),
  wrong: object('after a wrong code', () => ending),
};
export const stage: FieldsOf<Stage> = {
  ring: object('rings', () => target),
  forMs: ms('ring for'),
  offer: object('offer', () => offer),
  code: object('caller code', () => code),
};
export const treatment: FieldsOf<Treatment> = {
  stages: object('step', () => stage),
  ending: object('ending', () => ending),
  busy: object('when busy', () => ending),
};
export const rule: FieldsOf<Rule> = { ...NAMED, ...treatment, when: object('condition', () => when) };
export const plan: FieldsOf<Plan> = {
  rules: object('rule', () => rule),
  otherwise: object('default rule', () => treatment),
};
export const line: FieldsOf<Line> = {
  id: text('id'),
  extension: text('extension'),
  numbers: number('number'),
  forwardAll: object('forward all calls', () => ending),
  forwardUntil: text('forward all calls until'),
  forwardAfter: object('forward all calls after that', () => ending),
};
export const endpoint: FieldsOf<Endpoint> = {
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
  knownAs: flag('calls from it count as its owner’s'),
  path: object('way out', () => appPath),
  place: object('where it is', () => saidPlace),
};
export const mailbox: FieldsOf<Mailbox> = {
  enabled: flag('voicemail on'),
  copyTo: id('copy to'),
  greeting: object('greeting', () => greeting),
};
export const place: FieldsOf<NonNullable<Person['callsFrom']>[number]> = {
  status: id('status'),
  endpoint: id('phone'),
};
export const showing: FieldsOf<Showing> = { status: id('status'), shows: text('number shown') };
export const person: FieldsOf<Person> = {
  ...NAMED,
  status: id('status'),
  permission: id('permission'),
  maxCalls: count('calls at once'),
  template: id('template'),
  mailbox: object('mailbox', () => mailbox),
  lines: object('line', () => line),
  endpoints: object('phone', () => endpoint),
  callsFrom: object('calls from', () => place),
  roster: object('roster', () => roster),
  language: text('language at phones'),
  showing: object('number shown', () => showing),
  plan: object('reach plan', () => plan),
};
export const template: FieldsOf<Template> = {
  ...NAMED,
  note: text('whom it is for'),
  plan: object('reach plan', () => plan),
};
