import { XMLBuilder, XMLParser, XMLValidator } from 'fast-xml-parser';
import {
  withNewNames,
  faultsOf,
  KEY_USES,
  NAT_METHODS,
  parts,
  type Fault,
  type KeyUse,
  type NatMethod,
} from '../../estate';
import { readHardwareAddress } from '../phones';

/** What a phone that sets itself up is given; docs/formats.md has it in full. */
export const PHONE_FORMAT = 'hostler-phone/1';

export interface PhoneAccount {
  readonly line: number;
  readonly label: string;
  readonly user: string;
  readonly password: string;
  readonly realm: string;
  readonly server: string;
  readonly port: number;
  readonly transport: 'udp' | 'tcp' | 'tls';
  readonly expiresS: number;
}
/** A key as a phone has it: what is beside it, and what it does when it is pressed. */
export interface KeySetting {
  readonly at: number;
  readonly use: KeyUse;
  readonly label: string;
  /** `line`: the account's line; else what is dialled or watched, a SIP URI or digits. */
  readonly target: string;
}
/** An image of the firmware, where it is had and what it must be. */
export interface FirmwareOffer {
  readonly version: string;
  readonly path: string;
  readonly bytes: number;
  /** SHA-256 (FIPS 180-4), in hexadecimal digits. */
  readonly sha256: string;
}
export interface PhoneSettings {
  readonly format: typeof PHONE_FORMAT;
  /** EUI-48 in pairs with colons. */
  readonly macAddress: string;
  readonly model: string;
  readonly name: string;
  /** What stands on the display while nothing goes on; left out: its own. */
  readonly display?: string;
  /** The language of its display (RFC 5646); left out: its own. */
  readonly language?: string;
  /** Changes whenever any of the settings does. */
  readonly serial: string;
  readonly accounts: readonly PhoneAccount[];
  readonly nat?: NatMethod;
  readonly keys: readonly KeySetting[];
  /** How the phone asks again, without a code. */
  readonly again?: { readonly token: string; readonly everyS: number };
  readonly firmware: { readonly least: string; readonly load?: FirmwareOffer };
  /** The phone takes them up at a restart only. */
  readonly restart: boolean;
}

const { closed, count, flag, maybe, oneOf, requiredList, requiredText, requiredId } = parts;
const TRANSPORTS = ['udp', 'tcp', 'tls'] as const;
const imageSchema = closed({
  version: requiredText(20),
  path: requiredText(300),
  bytes: count(1).required('is missing'),
  sha256: requiredText(64).matches(/^[0-9a-f]{64}$/, 'must be 64 hexadecimal digits'),
});
const settingsSchema = closed({
  format: oneOf([PHONE_FORMAT]).required('is missing'),
  macAddress: requiredText(17),
  model: requiredId(),
  name: requiredText(),
  display: parts.text(500),
  language: parts.languageTag(),
  serial: requiredText(64),
  accounts: requiredList(
    closed({
      line: count(1, 100).required('is missing'),
      label: requiredText(),
      user: requiredText(100),
      password: requiredText(200),
      realm: requiredText(),
      server: requiredText(),
      port: count(1, 65_535).required('is missing'),
      transport: oneOf(TRANSPORTS).required('is missing'),
      expiresS: count(10, 86_400).required('is missing'),
    }),
  ),
  nat: oneOf(NAT_METHODS),
  keys: requiredList(
    closed({
      at: count(1, 200).required('is missing'),
      use: oneOf(KEY_USES).required('is missing'),
      label: parts.text(200),
      target: parts.text(300),
    }),
  ),
  again: maybe(closed({ token: requiredText(200), everyS: count(60).required('is missing') })),
  firmware: closed({ least: requiredText(20), load: maybe(imageSchema) }).required('is missing'),
  restart: flag().required('is missing'),
});

export const writeSettingsJson = (settings: PhoneSettings): string =>
  `${JSON.stringify(settings, null, 2)}\n`;

/** Settings as XML: an element for each thing, its values as attributes. */
export function writeSettingsXml(settings: PhoneSettings): string {
  const { accounts, keys, again, firmware, nat, restart, ...own } = settings;
  const texts = (values: object) =>
    Object.fromEntries(Object.entries(values).map(([name, value]) => [`@${name}`, String(value)]));
  const { load, ...least } = firmware;
  const builder = new XMLBuilder({
    attributeNamePrefix: '@',
    ignoreAttributes: false,
    format: true,
    suppressEmptyNode: true,
    suppressBooleanAttributes: false,
  });
  return `<?xml version="1.0" encoding="UTF-8"?>\n${builder.build({
    phone: {
      ...texts({ ...own, restart, ...(nat === undefined ? {} : { nat }) }),
      account: accounts.map(texts),
      key: keys.map(texts),
      ...(again ? { again: texts(again) } : {}),
      firmware: { ...texts(least), ...(load ? { load: texts(load) } : {}) },
    },
  })}`;
}

export type ReadSettings =
  | { readonly ok: true; readonly settings: PhoneSettings }
  | { readonly ok: false; readonly faults: readonly Fault[] };
const MOST_CHARACTERS = 1 << 18;
const broken = (message: string): ReadSettings => ({ ok: false, faults: [{ path: '', message }] });

/** Reads settings as a phone does, JSON or XML by how they begin. */
export function readSettings(text: string): ReadSettings {
  if (text.length > MOST_CHARACTERS) return broken('is longer than a phone takes');
  let value: unknown;
  if (text.trimStart().startsWith('<')) {
    if (/<!(DOCTYPE|ENTITY)/i.test(text))
      return broken('has a document type or entities, which are not read');
    if (XMLValidator.validate(text) !== true) return broken('is not XML');
    value = fromXml(text);
  } else {
    try {
      value = JSON.parse(text);
    } catch {
      return broken('is not JSON');
    }
  }
  value = withNewNames(value);
  const faults = faultsOf(settingsSchema, value);
  if (faults.length > 0) return { ok: false, faults };
  const settings = value as PhoneSettings;
  return readHardwareAddress(settings.macAddress) === null
    ? { ok: false, faults: [{ path: 'macAddress', message: 'is none' }] }
    : { ok: true, settings };
}

type Attributes = Readonly<Record<string, string>>;
/** An element without the spaces between those in it. */
const withoutText = (element: unknown): Record<string, unknown> => {
  const { '#text': _spaces, ...rest } = element as Record<string, unknown>;
  return rest;
};
/** XML in the shape of the JSON: numbers and switches as such. */
function fromXml(text: string): unknown {
  const many = ['account', 'key'];
  const parsed = new XMLParser({
    ignoreAttributes: false,
    attributeNamePrefix: '',
    parseAttributeValue: false,
    trimValues: false,
    ignoreDeclaration: true,
    isArray: (name) => many.includes(name),
  }).parse(text) as { readonly phone?: unknown };
  const { phone } = parsed;
  if (typeof phone !== 'object' || phone === null) return null;
  const { account = [], key = [], again, firmware, restart, ...own } = withoutText(phone);
  const numbers = (values: unknown, names: readonly string[]) =>
    Object.fromEntries(
      Object.entries((values ?? {}) as Attributes).map(([name, value]) => [
        name,
        names.includes(name) && value.trim() !== '' ? Number(value) : value,
      ]),
    );
  const { load, ...least } = withoutText(firmware ?? {}) as { readonly load?: unknown };
  return {
    ...own,
    restart: restart === 'true' ? true : restart === 'false' ? false : restart,
    accounts: (account as readonly unknown[]).map((each) => numbers(each, ['line', 'port', 'expiresS'])),
    keys: (key as readonly unknown[]).map((each) => ({ label: '', target: '', ...numbers(each, ['at']) })),
    ...(again === undefined ? {} : { again: numbers(again, ['everyS']) }),
    firmware: { ...least, ...(load === undefined ? {} : { load: numbers(load, ['bytes']) }) },
  };
}
