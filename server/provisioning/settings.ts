import { createHash, randomBytes, timingSafeEqual } from 'node:crypto';
import { readKept, type Device, type Person } from '../../core/estate';
import { compareFirmware, modelOf, type PhoneModel } from '../../core/devices/phones';
import {
  settingsFor,
  type FirmwareOffer,
  type PhoneSettings,
  type SystemAt,
} from '../../core/devices/provisioning';
import type { Queryable } from '../db';
import type { LiveEstate } from '../estate';
import type { Services } from '../http';
import type { ProvisioningOrder } from '../../standins/phones/provisioning';
import { readAccount, readAccounts } from '../switchboard';
import { putSecret, readSecret, readSecrets, removeSecret } from '../secrets';
import { readFirmwareFiles, readProvisioned } from './queries';

/** A phone that may set itself up, with whose it is. */
export interface Subject {
  readonly device: Device;
  readonly model: PhoneModel;
  readonly person: Person;
  readonly endpoint: string;
}

export const sha256 = (bytes: string | Buffer): string => createHash('sha256').update(bytes).digest('hex');
const TOKEN = 'self-set-token/';
const SETTINGS = 'self-set-settings/';
const AGAIN_EVERY_S = 86_400;

/** Whose phone a device is, or why it cannot be set up. */
export function subjectOf(live: LiveEstate, id: string): Subject | { readonly why: string } {
  const device = live.estate.devices?.find((each) => each.id === id);
  if (!device) return { why: 'It is none of the organisation’s phones any more' };
  const model = modelOf(device.model);
  if (!model) return { why: 'Its model is not in the catalogue' };
  const { endpoint } = device;
  const person = endpoint === undefined ? undefined : live.finder.ownerOf(endpoint);
  if (endpoint === undefined || !person) return { why: 'It is nobody’s phone yet' };
  return { device, model, person, endpoint };
}

/** The token by which a phone asks again; made when it is first needed. */
export async function tokenOf(db: Queryable, { secrets }: Services, address: string): Promise<string> {
  const known = await readSecret(db, secrets, TOKEN + address);
  if (known !== null) return known;
  const token = randomBytes(24).toString('base64url');
  await putSecret(db, secrets, TOKEN + address, token);
  return token;
}
export async function isToken(
  db: Queryable,
  { secrets }: Services,
  address: string,
  given: string,
): Promise<boolean> {
  const known = await readSecret(db, secrets, TOKEN + address);
  if (known === null) return false;
  const [a, b] = [Buffer.from(sha256(known)), Buffer.from(sha256(given))];
  return timingSafeEqual(a, b);
}

export const keepSettings = (
  db: Queryable,
  { secrets }: Services,
  address: string,
  settings: PhoneSettings,
): Promise<void> => putSecret(db, secrets, SETTINGS + address, JSON.stringify(settings));

/** What was given and made for a phone, for when it begins anew. */
export async function forget(db: Queryable, address: string): Promise<void> {
  await removeSecret(db, TOKEN + address);
  await removeSecret(db, SETTINGS + address);
}

/** All that settings are made of beside the estate. */
export interface Gathered {
  readonly system: SystemAt | null;
  readonly accounts: ReadonlyMap<string, { readonly user: string; readonly password: string }>;
  /** The newest image of each model. */
  readonly images: ReadonlyMap<string, FirmwareOffer>;
  readonly tokens: ReadonlyMap<string, string>;
  readonly given: ReadonlyMap<string, PhoneSettings>;
}

/** @param only the address of the one phone that it is for, with its endpoint; left out: for all of them */
export async function gather(
  db: Queryable,
  services: Services,
  only?: { readonly address: string; readonly endpoint: string },
): Promise<Gathered> {
  const { secrets } = services;
  const place = services.phones.place();
  const accounts = only ? [await readAccount(db, secrets, only.endpoint)] : await readAccounts(db, secrets);
  const head = (name: string) => readSecrets(db, secrets, name + (only?.address ?? ''));
  const named = (all: ReadonlyMap<string, string>) =>
    new Map([...all].map(([rest, text]) => [(only?.address ?? '') + rest, text]));
  const images = [...(await readFirmwareFiles(db))].sort((a, b) => compareFirmware(a.version, b.version));
  return {
    system: place && { realm: place.realm, server: place.address, port: place.udp, transport: 'udp' },
    accounts: new Map(
      accounts.flatMap((each) =>
        each?.endpoint ? [[each.endpoint, { user: each.user, password: each.password }] as const] : [],
      ),
    ),
    images: new Map(
      images.map(({ model, version, bytes, sha256: digest }) => [
        model,
        {
          version,
          path: `/provisioning/firmware/${encodeURIComponent(model)}/${encodeURIComponent(version)}`,
          bytes,
          sha256: digest,
        },
      ]),
    ),
    tokens: named(await head(TOKEN)),
    given: new Map(
      [...named(await head(SETTINGS))].map(([address, text]) => [address, readKept(text) as PhoneSettings]),
    ),
  };
}

/**
 * The settings of a phone as they are now.
 * @returns why there are none where there cannot be any yet
 */
export function settingsWith(
  { system, accounts, images, tokens, given }: Gathered,
  live: LiveEstate,
  address: string,
  { device, model, person, endpoint }: Subject,
  firmware: string | null,
): PhoneSettings | { readonly why: string } {
  const account = accounts.get(endpoint);
  if (!system || !account) return { why: 'The phone system is not there yet' };
  return settingsFor(
    {
      device,
      model,
      person,
      account,
      system,
      estate: live.estate,
      firmware,
      image: images.get(model.id) ?? null,
      again: { token: tokens.get(address) ?? '', everyS: AGAIN_EVERY_S },
      before: given.get(address) ?? null,
    },
    sha256,
  );
}

/** The phones that have their settings, as their stand-ins know them when they are started again. */
export async function knownPhones(
  { db, store, secrets }: Pick<Services, 'db' | 'store' | 'secrets'>,
  url: string,
): Promise<readonly ProvisioningOrder[]> {
  const live = await store.current();
  const given = await readSecrets(db, secrets, SETTINGS);
  return (await readProvisioned(db)).flatMap(({ address, device, progress }): ProvisioningOrder[] => {
    const text = given.get(address);
    const subject = subjectOf(live, device);
    if (text === undefined || 'why' in subject) return [];
    return [
      {
        endpoint: subject.endpoint,
        macAddress: address,
        model: subject.model.id,
        firmware: progress.firmware ?? subject.model.firmwareLeast,
        form: 'json',
        url,
        settings: readKept(text) as PhoneSettings,
      },
    ];
  });
}
