import type { Desk, Device, Estate, Person, PhoneKey } from '../../estate';
import { compareFirmware, isNewEnough, showHardwareAddress, type PhoneModel } from '../phones';
import {
  PHONE_FORMAT,
  type FirmwareOffer,
  type KeySetting,
  type PhoneAccount,
  type PhoneSettings,
} from './document';
import { sayKey } from './keys';
import { languageFor } from './language';
import { sharedDisplay, sharedKeys, signOnCode } from './shared';

/** Where calls and registrations go. */
export interface SystemAt {
  readonly realm: string;
  readonly server: string;
  readonly port: number;
  readonly transport: PhoneAccount['transport'];
}
/** All that a phone's settings are made of. */
export interface SettingsOf {
  readonly device: Device;
  readonly model: PhoneModel;
  /** Whose it is; null: a shared desk’s, at which nobody is signed on. */
  readonly person: Person | null;
  /** The shared desk that it stands at; null: it is one person’s. */
  readonly desk: Pick<Desk, 'name' | 'credential'> | null;
  readonly account: { readonly user: string; readonly password: string };
  readonly system: SystemAt;
  readonly estate: Pick<Estate, 'people' | 'dialling' | 'groups'>;
  /** What the phone says it runs. */
  readonly firmware: string | null;
  /** The newest image of the model that is here; null: none. */
  readonly image: FirmwareOffer | null;
  readonly again: NonNullable<PhoneSettings['again']>;
  /** What it was given last; null: nothing yet. */
  readonly before: PhoneSettings | null;
}

const EXPIRES_S = 30;

/** The codes of the organisation that keys dial, by what they do. */
const codeFor = ({ dialling }: Pick<Estate, 'dialling'>, does: 'twinning' | 'sign-on'): string =>
  dialling.codes?.find(({ acts }) => acts === does)?.code ?? '';

type Made = Pick<SettingsOf, 'estate' | 'system' | 'person' | 'desk'>;
function keySetting(key: PhoneKey, { estate, system, person, desk }: Made): KeySetting {
  const people = new Map(estate.people.map((each) => [each.id, each]));
  const label =
    desk && person && key.use === 'sign-on' && key.label === undefined
      ? 'Sign off'
      : sayKey(key, (id) => people.get(id)?.name);
  const uri = (user: string) => `sip:${user.replaceAll('#', '%23')}@${system.server}:${system.port}`;
  const target = (): string => {
    switch (key.use) {
      case 'line':
        return '1';
      case 'watch': {
        const extension = people.get(key.person ?? '')?.lines[0]?.extension;
        return extension === undefined ? '' : uri(extension);
      }
      case 'call':
        return key.number ?? '';
      case 'twinning':
      case 'sign-on': {
        const code = codeFor(estate, key.use);
        return code === '' ? '' : uri(code);
      }
    }
  };
  return { at: key.at, use: key.use, label, target: target() };
}

/** Which parts of a phone's settings differ from what it has. */
export function partsChanged(
  before: PhoneSettings | null,
  after: Omit<PhoneSettings, 'serial' | 'restart'>,
): readonly PhoneModel['restartFor'][number][] {
  if (!before) return ['account', 'server', 'keys', 'network'];
  const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);
  const who = ({ accounts }: Pick<PhoneSettings, 'accounts'>) =>
    accounts.map(({ user, password, label, line }) => [user, password, label, line]);
  const where = ({ accounts }: Pick<PhoneSettings, 'accounts'>) =>
    accounts.map(({ realm, server, port, transport }) => [realm, server, port, transport]);
  return [
    ...(same(who(before), who(after)) ? [] : (['account'] as const)),
    ...(same(where(before), where(after)) ? [] : (['server'] as const)),
    ...(same(before.keys, after.keys) ? [] : (['keys'] as const)),
    ...(before.nat === after.nat ? [] : (['network'] as const)),
  ];
}

/**
 * The settings of a phone. One whose firmware is too old gets none of its secrets, only what to load.
 * @param hash of a text, as hexadecimal digits
 */
export function settingsFor(of: SettingsOf, hash: (text: string) => string): PhoneSettings {
  const { device, model, person, desk, account, system, firmware, image, again, before, estate } = of;
  const isReady = isNewEnough(firmware, model.firmwareLeast);
  const load =
    image && (firmware === null || compareFirmware(image.version, firmware) > 0) && !isReady ? image : null;
  const keys = desk ? sharedKeys(device, model, person, estate) : (device.keys ?? []);
  const language = languageFor(person?.language, model.languages);
  const body: Omit<PhoneSettings, 'serial' | 'restart'> = {
    format: PHONE_FORMAT,
    macAddress: showHardwareAddress(device.macAddress ?? ''),
    model: model.id,
    name: desk?.name ?? device.name,
    ...(desk && isReady ? { display: sharedDisplay(desk, person, signOnCode(estate.dialling.codes)) } : {}),
    ...(isReady && language !== null ? { language } : {}),
    accounts: isReady
      ? [
          {
            line: 1,
            label: person
              ? [person.lines[0]?.extension, person.name].filter(Boolean).join(' ')
              : (desk?.name ?? device.name),
            ...account,
            ...system,
            expiresS: EXPIRES_S,
          },
        ]
      : [],
    ...(device.natMethod === undefined ? {} : { nat: device.natMethod }),
    keys: isReady ? keys.filter(({ at }) => at <= model.keys).map((key) => keySetting(key, of)) : [],
    ...(isReady ? { again } : {}),
    firmware: { least: model.firmwareLeast, ...(load ? { load } : {}) },
  };
  return {
    ...body,
    serial: hash(JSON.stringify(body)).slice(0, 16),
    restart: isReady && partsChanged(before, body).some((part) => model.restartFor.includes(part)),
  };
}
