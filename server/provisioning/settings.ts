import { createHash, randomBytes, timingSafeEqual } from 'node:crypto';
import { deskEndpoint, hotDeskOf } from '../../core/desks';
import { readKept, type Desk, type Device, type Estate, type Person } from '../../core/estate';
import { compareFirmware, modelOf, type PhoneModel } from '../../core/devices/phones';
import {
  settingsFor,
  type FirmwareOffer,
  type PhoneSettings,
  type SystemAt,
} from '../../core/devices/provisioning';
import type { Queryable } from '../db';
import { openAt } from '../desks';
import type { LiveEstate } from '../estate';
import type { Services } from '../http';
import type { NewRecord } from '../record';
import type { ProvisioningOrder } from '../../standins/phones/provisioning';
import { readAccount, readAccounts } from '../switchboard';
import { putSecret, readSecret, readSecrets, removeSecret } from '../secrets';
import { readFirmwareFiles, readProvisioned } from './queries';

/** A phone that is provisioned, with whose it is. */
export interface Subject {
  readonly device: Device;
  readonly model: PhoneModel;
  /** null: a shared desk’s, at which nobody is signed on. */
  readonly person: Person | null;
  /** The shared desk that it stands at; null: it is one person’s. */
  readonly desk: Desk | null;
  /** What it registers as: of a shared desk’s the account of the desk, whoever sits there. */
  readonly endpoint: string;
}
/** Whose a phone is: of a shared desk’s the desk. */
export const ownerName = ({ desk, person }: Subject): string => desk?.name ?? person?.name ?? 'Nobody';
/** What an entry of the record about a phone says: of a shared desk’s it is about nobody. */
export const recordedAs = (subject: Subject): Pick<NewRecord, 'personId' | 'subject'> => ({
  ...(subject.desk || !subject.person ? {} : { personId: subject.person.id }),
  subject: `${ownerName(subject)}: ${subject.device.name}`,
});
/** Whether a registration is that of a phone: a shared desk’s is told as that of whoever is signed on. */
export const isOf = ({ endpoint, desk, person }: Subject, registered: string | null): boolean =>
  registered === endpoint || (desk !== null && person !== null && registered === hotDeskOf(person));

export const sha256 = (bytes: string | Buffer): string => createHash('sha256').update(bytes).digest('hex');
const TOKEN = 'self-set-token/';
const SETTINGS = 'self-set-settings/';
const AGAIN_EVERY_S = 86_400;

/** The shared desk whose phone a device is. */
export const deskOf = ({ desks = [] }: Pick<Estate, 'desks'>, device: string): Desk | undefined =>
  desks.find((each) => each.device === device);
/** What a device registers as; undefined: it is nobody’s phone yet. */
export function registersAs(estate: Pick<Estate, 'desks'>, { id, endpoint }: Device): string | undefined {
  const desk = deskOf(estate, id);
  return desk ? deskEndpoint(desk.id) : endpoint;
}

/** The subject of one phone, with whoever is signed on there now. */
export async function subjectNow(
  db: Queryable,
  live: LiveEstate,
  id: string,
): Promise<ReturnType<typeof subjectOf>> {
  const desk = deskOf(live.estate, id);
  const [here] = desk ? await openAt(db, desk.id, '') : [];
  return subjectOf(live, id, here ? new Map([[here.desk, here.person]]) : new Map());
}

/**
 * Whose phone a device is, or why it cannot be set up.
 * @param signedOn who is at which shared desk, by the desk’s id
 */
export function subjectOf(
  live: LiveEstate,
  id: string,
  signedOn: ReadonlyMap<string, string>,
): Subject | { readonly why: string } {
  const device = live.estate.devices?.find((each) => each.id === id);
  if (!device) return { why: 'It is none of the organisation’s phones any more' };
  const model = modelOf(device.model);
  if (!model) return { why: 'Its model is not in the catalogue' };
  const desk = deskOf(live.estate, id);
  if (desk) {
    const person = live.finder.person(signedOn.get(desk.id) ?? '') ?? null;
    return { device, model, person, desk, endpoint: deskEndpoint(desk.id) };
  }
  const { endpoint } = device;
  const person = endpoint === undefined ? undefined : live.finder.ownerOf(endpoint);
  if (endpoint === undefined || !person) return { why: 'It is nobody’s phone yet' };
  return { device, model, person, desk: null, endpoint };
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
  { device, model, person, desk, endpoint }: Subject,
  firmware: string | null,
): PhoneSettings | { readonly why: string } {
  const account = accounts.get(endpoint);
  if (!system || !account) return { why: 'The phone system is not there yet' };
  return settingsFor(
    {
      device,
      model,
      person,
      desk,
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
    // Who sits at a desk does not matter here.
    const subject = subjectOf(live, device, new Map());
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
