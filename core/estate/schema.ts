import { saidPlaceSchema } from './civic-schema';
import { deskSchema, rosterSchema } from './desk-schema';
import { promisesSchema } from './promise-schema';
import { seatSchema } from './seat-schema';
import { accessNumberSchema, dayLimitSchema, screeningSchema, showingSchema } from './access-schema';
import { deviceSchema, siteSchema } from './device-schema';
import { appPathSchema, serverSchema } from './network-schema';
import { mixed, string, ValidationError, type AnySchema } from 'yup';
import {
  CODE_ACTS,
  type Dialling,
  type MoveTimes,
  type ServiceCode,
  type Settings,
  type SipServer,
  type TollGuard,
} from './organisation-types';
import {
  ENDPOINT_KINDS,
  ESTATE_FORMAT,
  GROUP_MODES,
  NUMBER_CLASSES,
  WEEKDAYS,
  type Estate,
  type Fault,
  type Endpoint,
  type EndpointKind,
  type Line,
  type MenuRule,
  type Person,
  type Mailbox,
  type Group,
  type Menu,
  type Schedule,
  type SeatMember,
  type WeeklySpan,
  type OpenSpan,
  type Template,
  type Status,
  type Permission,
  type Trunk,
} from './types';
import { DEFAULT_SETTINGS, isNumberKind } from './defaults';
import {
  absent,
  chooseOf,
  clock,
  closed,
  count,
  date,
  e164,
  field,
  flag,
  instant,
  id,
  isObject,
  languageTag,
  list,
  maybe,
  ms,
  oneOf,
  requiredId,
  requiredList,
  requiredText,
  text,
  timeZone,
} from './yup-parts';
import {
  NOT_AN_OBJECT,
  digits,
  prefix,
  sipUri,
  scheduleTest,
  callerTest,
  ending,
  choices,
  greeting,
  planSchema,
} from './plan-schema';

const endpointKind = (value: unknown): EndpointKind | 'none' => {
  const kind = field(value, 'kind');
  return ENDPOINT_KINDS.find((each) => each === kind) ?? 'none';
};
export const endpointSchema = chooseOf(endpointKind, (kind): AnySchema => {
  const isNumber = kind !== 'none' && isNumberKind(kind);
  const only = (what: string) => absent(`is only for ${what}`);
  return closed<Endpoint>({
    id: requiredId(),
    label: requiredText(120),
    kind: oneOf(ENDPOINT_KINDS).required('is missing'),
    number: isNumber
      ? e164().required('is missing: a mobile or landline needs its number')
      : only('a mobile or landline'),
    afterAnswer: text(64).matches(
      /^[0-9*#A-Da-d,pw]*$/,
      'must be digits, *, #, A to D, and p, w or , for a pause',
    ),
    uri:
      kind === 'sip' ? sipUri().required('is missing: a SIP endpoint needs its URI') : only('a SIP endpoint'),
    setupMs: ms(),
    mailboxAfterMs: isNumber ? ms().nullable() : only('a mobile or landline'),
    offAnswerMs: isNumber ? ms() : only('a mobile or landline'),
    wakes: kind === 'mobile-app' ? flag() : only('a softphone on a mobile'),
    wakeMs: kind === 'mobile-app' ? ms() : only('a softphone on a mobile'),
    knownAs: isNumber ? flag() : only('a mobile or landline'),
    place: maybe(saidPlaceSchema()),
    path: kind === 'mobile-app' || kind === 'desktop-app' ? maybe(appPathSchema) : only('a softphone'),
  });
});

const extension = () => digits('an extension');
const ownNumbers = () => list(e164().required('is missing'));

export const personSchema = closed<Person>({
  id: requiredId(),
  name: requiredText(200),
  status: requiredId(),
  permission: requiredId(),
  maxCalls: count(0).required('is missing'),
  template: id(),
  mailbox: maybe(closed<Mailbox>({ enabled: flag(), copyTo: list(id()), greeting: greeting() })),
  lines: requiredList(
    closed<Line>({
      id: requiredId(),
      extension: extension(),
      numbers: ownNumbers().required('is missing'),
      forwardAll: ending({ queue: false, ownMailbox: true, optional: true, nullable: true }),
      forwardUntil: instant(),
      forwardAfter: ending({ queue: false, ownMailbox: true, optional: true, nullable: true }),
    }),
  ),
  endpoints: requiredList(endpointSchema),
  callsFrom: list(
    closed<NonNullable<Person['callsFrom']>[number]>({ status: requiredId(), endpoint: requiredId() }),
  ),
  roster: list(rosterSchema),
  language: languageTag(),
  showing: showingSchema,
  plan: planSchema,
});

const member = () =>
  chooseOf(
    (value: unknown) =>
      !isObject(value) ? 'none' : 'seat' in value ? 'seat' : 'endpoint' in value ? 'endpoint' : 'person',
    (look): AnySchema => {
      if (look === 'none') return NOT_AN_OBJECT;
      if (look === 'seat') return closed<SeatMember>({ seat: requiredId(), rank: count(1, 9) });
      return closed({ [look]: requiredId() });
    },
  );

const placeless = { queue: false, ownMailbox: false };

export const groupSchema = closed<Group>({
  id: requiredId(),
  name: requiredText(),
  extension: extension(),
  numbers: ownNumbers(),
  mode: oneOf(GROUP_MODES).required('is missing'),
  members: requiredList(member()),
  ringMs: ms(1).required('is missing'),
  permission: requiredId(),
  ending: ending({ queue: true, ownMailbox: false }),
});

export const menuSchema = closed<Menu>({
  id: requiredId(),
  name: requiredText(),
  extension: extension(),
  numbers: ownNumbers(),
  permission: requiredId(),
  rules: requiredList(
    closed<MenuRule>({
      id: requiredId(),
      when: closed<MenuRule['when']>({ schedule: scheduleTest(), caller: callerTest() }),
      greeting: greeting(),
      greetingMs: ms().required('is missing'),
      waitMs: ms().required('is missing'),
      choices: choices(ending(placeless)),
      otherwise: ending(placeless),
    }),
  )
    .min(1, 'must have a rule')
    .test('last', function (value) {
      const last = (value?.length ?? 0) - 1;
      const when = field(value?.[last], 'when');
      if (last < 0 || !isObject(when) || Object.keys(when).length === 0) return true;
      return this.createError({
        path: `${this.path}[${last}].when`,
        message: 'must be empty in the last rule',
      });
    }),
});

export const scheduleSchema = closed<Schedule>({
  id: requiredId(),
  name: requiredText(),
  timeZone: timeZone(),
  weekly: requiredList(
    closed<WeeklySpan>({ days: requiredList(oneOf(WEEKDAYS)), from: clock(), to: clock() }),
  ),
  closed: list(date()),
  open: list(closed<OpenSpan>({ date: date(), from: clock(), to: clock() })),
});

export const templateSchema = closed<Template>({
  id: requiredId(),
  name: requiredText(200),
  note: text(500),
  plan: planSchema,
});

export const statusSchema = closed<Status>({ id: requiredId(), name: requiredText() });

const moveCode = () => text(8).matches(/^[0-9*#A-D]+$/, 'must be keys of a telephone: digits, *, #, A to D');

const sipServer = () =>
  closed<SipServer>({
    host: requiredText(253).matches(
      /^[A-Za-z0-9]([A-Za-z0-9.:-]*[A-Za-z0-9])?$/,
      'must be a name or an address',
    ),
    port: count(1, 65_535).required('is missing'),
    transport: oneOf(['udp', 'tcp', 'tls']).required('is missing'),
  });

export const settingsSchema = closed<Settings>({
  number: e164(),
  ringMs: ms(1),
  confirmWithinMs: ms(),
  recordNameMs: ms(),
  hopLimit: count(0, 1000),
  move: maybe(
    closed<MoveTimes>({ heldMs: ms(), sendForMs: ms(1000), toDesk: moveCode(), transfer: moveCode() }).test(
      'codes',
      'must have two codes of which none begins with the other',
      (move) => {
        const { toDesk, transfer } = { ...DEFAULT_SETTINGS.move, ...(move as object | undefined) };
        return !toDesk.startsWith(transfer) && !transfer.startsWith(toDesk);
      },
    ),
  ),
  servers: maybe(
    closed<NonNullable<Settings['servers']>>({ inside: maybe(sipServer()), outside: maybe(sipServer()) }),
  ),
  desks: maybe(closed<NonNullable<Settings['desks']>>({ graceS: count(0, 86_400) })),
  fraudProtection: maybe(closed<TollGuard>({ prefixes: requiredList(prefix()), ownTargets: count(0, 1000) })),
});

/** How numbers are dialled. */
export const diallingSchema = closed<Dialling>({
  country: text(2)
    .matches(/^[A-Z]{2}$/, 'must be a country of ISO 3166 such as CA')
    .required('is missing'),
  areaCodes: requiredList(digits('an area code')),
  outsideCode: text(8)
    .matches(/^[0-9*#]*$/, 'must be digits, or empty')
    .defined('is missing'),
  nationalPrefix: text(8).matches(/^\d*$/, 'must be digits, or empty').defined('is missing'),
  localWithPrefix: flag(),
  internationalPrefix: text(8).matches(/^\d*$/, 'must be digits, or empty').defined('is missing'),
  extensionDigits: count(1, 15).required('is missing'),
  codes: list(
    closed<ServiceCode>({
      code: text(20)
        .matches(/^[*#][0-9*#]+$/, 'must begin with * or #, then digits, * or #')
        .required('is missing'),
      does: requiredText(200),
      acts: oneOf(CODE_ACTS),
    }),
  ),
});

export const permissionSchema = closed<Permission>({
  id: requiredId(),
  name: requiredText(),
  allow: requiredList(oneOf(NUMBER_CLASSES)),
  allowPrefixes: list(prefix()),
  denyPrefixes: list(prefix()),
  dayLimit: maybe(dayLimitSchema),
});

export const trunkSchema = closed<Trunk>({
  id: requiredId(),
  name: requiredText(),
  channels: count(0).required('is missing'),
  carries: requiredList(oneOf(NUMBER_CLASSES)),
  screening: maybe(screeningSchema),
});

export const estateSchema = closed<Estate>({
  format: string()
    .typeError(`must be "${ESTATE_FORMAT}"`)
    .oneOf([ESTATE_FORMAT], `must be "${ESTATE_FORMAT}"`)
    .required('is missing'),
  name: requiredText(),
  timeZone: timeZone(),
  settings: maybe(settingsSchema),
  dialling: diallingSchema,
  permissions: requiredList(permissionSchema),
  trunks: requiredList(trunkSchema),
  schedules: requiredList(scheduleSchema),
  statuses: requiredList(statusSchema),
  people: requiredList(personSchema),
  groups: requiredList(groupSchema),
  menus: requiredList(menuSchema),
  promises: maybe(promisesSchema),
  templates: maybe(requiredList(templateSchema)),
  sites: maybe(requiredList(siteSchema)),
  devices: maybe(requiredList(deviceSchema)),
  servers: maybe(requiredList(serverSchema)),
  desks: maybe(requiredList(deskSchema)),
  seats: maybe(requiredList(seatSchema)),
  accessNumbers: maybe(requiredList(accessNumberSchema)),
  // Checked by core/routes, which knows of digit maps.
  routing: maybe(mixed()),
});

const clean = (path: string) => path.replace(/\["([^"]+)"\]/g, '.$1').replace(/^\./, '');

/**
 * Checks a value against a schema.
 * @returns the faults with the paths of their fields, in the order of the file, 20 at most; empty if there is none.
 */
export function faultsOf(
  schema: { validateSync: AnySchema['validateSync'] },
  value: unknown,
  base = '',
): Fault[] {
  try {
    schema.validateSync(value, { abortEarly: false, strict: true, disableStackTrace: true });
    return [];
  } catch (error) {
    if (!(error instanceof ValidationError)) throw error;
    const seen = new Set<string>();
    const faults: Fault[] = [];
    for (const e of leaves(error)) {
      if (faults.length === MOST_FAULTS) break;
      const inner = clean(e.path ?? '');
      const path =
        base && inner ? (inner.startsWith('[') ? base + inner : `${base}.${inner}`) : base || inner;
      if (seen.has(path)) continue;
      seen.add(path);
      faults.push({ path, message: e.message });
    }
    return faults;
  }
}

/** Who has twenty faults to see to needs no more of them at once; somebody who sends thousands gets no long answer. */
export const MOST_FAULTS = 20;
function* leaves(error: ValidationError): Generator<ValidationError> {
  if (error.inner.length === 0) yield error;
  for (const each of error.inner) yield* leaves(each);
}

/** Faults of form only; references between objects are `referenceFaults`'s. */
export const formFaults = (value: unknown): Fault[] => faultsOf(estateSchema, value);

export type EstateOrFaults =
  | { readonly ok: true; readonly estate: Estate }
  | { readonly ok: false; readonly faults: readonly Fault[] };
