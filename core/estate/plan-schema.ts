import { mixed, string, type AnySchema } from 'yup';
import {
  ARRIVALS,
  CALLER_CLASSES,
  CONFIRMS,
  SAID_LEADS,
  type CallerTest,
  type RingTarget,
  type Greeting,
  type When,
  type ScheduleTest,
  type Choice,
  type OfferStage,
  type CodeStage,
  type RingStage,
  type GreetingKey,
  type Plan,
  type Rule,
  type Treatment,
  type SimpleEnding,
} from './types';
import {
  chooseOf,
  closed,
  date,
  e164,
  field,
  flag,
  id,
  isObject,
  list,
  maybe,
  ms,
  share,
  oneOf,
  requiredId,
  requiredList,
  requiredText,
  text,
} from './yup-parts';

/** The form of a reach plan: conditions, stages, targets and endings, which groups and menus share. */
export const NOT_AN_OBJECT = mixed().test('object', 'must be an object', () => false);

const key = () =>
  string()
    .typeError('must be a key')
    .matches(/^[0-9*#]$/, 'must be one key: 0 to 9, * or #')
    .required('is missing');
export const digits = (what: string) =>
  text(32).matches(/^\d+$/, `must be ${what} in digits`).required('is missing');
export const prefix = () => text(20).matches(/^\+[1-9]\d*$/, 'must be an E.164 prefix: + and digits');
export const sipUri = () =>
  text(255).matches(/^sips?:[^\s@]+(@[^\s@]+)?$/i, 'must be a SIP URI such as sip:name@host');
const present = () =>
  text(40).test(
    'present',
    'must be "caller" or an E.164 number of the organisation',
    (value) => value === undefined || value === 'caller' || /^\+[1-9]\d{1,18}$/.test(value),
  );

export const scheduleTest = () =>
  maybe(closed<ScheduleTest>({ id: requiredId(), inside: flag().required('is missing') }));
export const callerTest = () =>
  maybe(
    closed<CallerTest>({
      class: oneOf(CALLER_CLASSES).required('is missing'),
      numbers: list(text(20).matches(/^\+?\d+$/, 'must be an E.164 prefix or an extension')),
    }).test('numbers', function (value: unknown) {
      const listed = field(value, 'class') === 'listed';
      if (value === undefined || listed === (field(value, 'numbers') !== undefined)) return true;
      const message = listed ? 'is missing: a listed caller needs it' : 'is only for a listed caller';
      return this.createError({ path: `${this.path}.numbers`, message });
    }),
  );

/** The fields of each kind of ending beside its kind: a kind or a field that is left out does not compile. */
type EndingFields = {
  readonly [K in SimpleEnding['kind']]: (ownMailbox: boolean) => {
    readonly [F in Exclude<keyof Extract<SimpleEnding, { readonly kind: K }>, 'kind'>]-?: AnySchema;
  };
};
const ENDINGS: EndingFields = {
  mailbox: (ownMailbox) => ({
    person: ownMailbox ? id() : id().required('is missing: a mailbox here names its person'),
    agreedOn: maybe(date()),
  }),
  person: () => ({ person: requiredId(), agreedOn: maybe(date()) }),
  endpoint: () => ({ endpoint: requiredId(), present: present(), agreedOn: maybe(date()) }),
  number: () => ({ number: e164().required('is missing'), present: present() }),
  sip: () => ({ uri: sipUri().required('is missing') }),
  group: () => ({ group: requiredId() }),
  menu: () => ({ menu: requiredId() }),
  'hang-up': () => ({ message: text().defined('is missing') }),
};
const SIMPLE_ENDINGS = Object.keys(ENDINGS) as readonly SimpleEnding['kind'][];
const endingFields = (kind: unknown, ownMailbox: boolean): Record<string, AnySchema> | null => {
  const known = SIMPLE_ENDINGS.find((each) => each === kind);
  return known === undefined ? null : ENDINGS[known](ownMailbox);
};

interface EndingPlace {
  readonly queue: boolean;
  readonly ownMailbox: boolean;
  readonly optional?: boolean;
  readonly nullable?: boolean;
}

type EndingLook = SimpleEnding['kind'] | 'queue' | 'left-out' | 'null' | 'no-object' | 'unknown';
const endingLook = (value: unknown): EndingLook => {
  if (value === undefined) return 'left-out';
  if (value === null) return 'null';
  if (!isObject(value)) return 'no-object';
  const kind = field(value, 'kind');
  return kind === 'queue' ? kind : (SIMPLE_ENDINGS.find((each) => each === kind) ?? 'unknown');
};

/** An Ending, where `place` says whether a queue may stand and whether a mailbox may leave out its person. */
export const ending = (place: EndingPlace) =>
  chooseOf(endingLook, (look): AnySchema => {
    if (look === 'left-out') return place.optional ? mixed() : mixed().required('is missing');
    if (look === 'null') return place.nullable ? mixed().nullable() : NOT_AN_OBJECT;
    if (look === 'no-object') return NOT_AN_OBJECT;
    const kind = look;
    if (kind === 'queue') {
      if (!place.queue)
        return mixed().test(
          'queue',
          'a queue may stand only as the ending of a rule or a group',
          () => false,
        );
      return closed({
        kind: mixed(),
        maxMs: ms(1).required('is missing'),
        then: ending({ queue: false, ownMailbox: place.ownMailbox }),
      });
    }
    const fields = endingFields(kind, place.ownMailbox);
    if (!fields)
      return closed({
        kind: oneOf([...SIMPLE_ENDINGS, ...(place.queue ? ['queue'] : [])]).required('is missing'),
      }).noUnknown(false);
    return closed({ kind: mixed(), ...fields });
  });

const target = () =>
  closed<RingTarget>({
    endpoint: requiredId(),
    enabled: flag(),
    switchedOff: flag(),
    delayMs: ms(),
    acceptAfterMs: ms(),
    giveUpAfterMs: ms().nullable(),
    confirm: oneOf(CONFIRMS),
    present: present(),
    arrivals: list(oneOf(ARRIVALS)),
    schedule: scheduleTest(),
    whileRegistered: id(),
    unlessRegistered: id(),
    onlyQuality: share(4.5).min(1, 'must be a score from 1 to 4.5'),
    agreedOn: maybe(date()),
  });

export const choices = (then: AnySchema) =>
  requiredList(closed<Choice<unknown>>({ key: key(), then })).test('keys', function (value) {
    const keys = (value ?? []).map((choice) => field(choice, 'key'));
    const twice = keys.findIndex((k, i) => typeof k === 'string' && keys.indexOf(k) < i);
    return (
      twice < 0 || this.createError({ path: `${this.path}[${twice}].key`, message: 'is offered already' })
    );
  });

const nextOrEnding = () =>
  chooseOf(
    (value: unknown) => (value === 'next' ? 'next' : typeof value === 'string' ? 'text' : 'ending'),
    (look): AnySchema => {
      if (look === 'next') return mixed();
      if (look === 'text') return mixed().test('next', 'must be "next" or an ending', () => false);
      return ending({ queue: false, ownMailbox: true });
    },
  );

const stageLook = (value: unknown) =>
  !isObject(value)
    ? 'no-object'
    : 'offer' in value
      ? 'offer'
      : 'code' in value
        ? 'code'
        : 'ring' in value
          ? 'ring'
          : 'unknown';
const stage = () =>
  chooseOf(stageLook, (look): AnySchema => {
    if (look === 'no-object') return NOT_AN_OBJECT;
    if (look === 'offer')
      return closed({
        offer: closed<OfferStage['offer']>({
          greeting: greeting(),
          greetingMs: ms().required('is missing'),
          waitMs: ms().required('is missing'),
          choices: choices(nextOrEnding()),
        }),
      });
    if (look === 'code')
      return closed({
        code: closed<CodeStage['code']>({
          digits: digits('the code'),
          withinMs: ms().required('is missing'),
          wrong: ending({ queue: false, ownMailbox: true }),
        }),
      });
    if (look === 'ring')
      return closed<RingStage>({ ring: requiredList(target()), forMs: ms(1).required('is missing') });
    return mixed().test('stage', 'must have ring, offer or code', () => false);
  });

export const greeting = () =>
  maybe(
    closed<Greeting>({
      text: text(2000),
      says: requiredList(
        closed<GreetingKey>({ key: key(), leads: oneOf(SAID_LEADS).required('is missing'), whom: id() }),
      ),
    }),
  );

const treatment = () => ({
  stages: requiredList(stage()),
  ending: ending({ queue: true, ownMailbox: true }),
  busy: ending({ queue: true, ownMailbox: true, optional: true }),
});

const when = () =>
  closed<When>({
    status: list(id()),
    schedule: scheduleTest(),
    line: list(id()),
    caller: callerTest(),
    arrival: list(oneOf(ARRIVALS)),
  });

export const planSchema = closed<Plan>({
  rules: requiredList(closed<Rule>({ id: requiredId(), name: requiredText(), when: when(), ...treatment() })),
  otherwise: closed<Treatment>(treatment()),
});
