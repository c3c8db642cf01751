import type { ProvisionedRow, ProvisioningPage } from '../../api/provisioning';
import {
  afterStep,
  lockedUntil,
  nextStep,
  policyFor,
  type Progress,
  type ProvisioningPolicy,
} from '../../core/devices/provisioning';
import { whoIsSignedOn } from '../desks';
import type { LiveEstate } from '../estate';
import type { SignedIn } from '../http';
import { readPinDates } from '../pins';
import { readAuthorities } from './authority';
import {
  readFirmwareFiles,
  readPolicy,
  readProvisioned,
  readStrangers,
  type ProvisionedPhone,
} from './queries';
import { gather, isOf, settingsWith, subjectOf, type Gathered, type Subject } from './settings';

/** How far a phone has come, as it is now: one that has its settings and is there has registered. */
function progressNow(
  { services }: SignedIn,
  progress: Progress,
  subject: Subject | null,
  policy: ProvisioningPolicy,
): Progress {
  const { fetchedMs } = progress;
  const registration = services.phones
    .registrations()
    .find(
      (each) =>
        subject && isOf(subject, each.endpoint) && fetchedMs !== null && each.refreshedMs >= fetchedMs,
    );
  const isSet = ['fetched', 'restarting'].includes(progress.state);
  if (isSet && registration) return afterStep(progress, { kind: 'registered' }, registration.refreshedMs);
  if (lockedUntil(progress, policy, services.now().getTime()) !== null)
    return { ...progress, state: 'locked' };
  // As it was kept before the source was held up instead of the phone.
  return progress.state === 'locked' ? { ...progress, state: 'asked' } : progress;
}

const iso = (ms: number | null) => (ms === null ? null : new Date(ms).toISOString());

/** One phone with how far it has come. */
export function shown(
  context: SignedIn,
  live: LiveEstate,
  phone: ProvisionedPhone,
  asked: ProvisioningPolicy,
  pins: ReadonlyMap<string, string>,
  gathered: Gathered,
  signedOn: ReadonlyMap<string, string>,
): ProvisionedRow {
  const subject = subjectOf(live, phone.device, signedOn);
  const device = live.estate.devices?.find(({ id }) => id === phone.device);
  const isKnown = !('why' in subject);
  const policy = policyFor(asked, isKnown && subject.desk !== null);
  const progress = progressNow(context, phone.progress, isKnown ? subject : null, policy);
  const settings =
    isKnown && progress.serial !== null
      ? settingsWith(gathered, live, phone.address, subject, progress.firmware)
      : null;
  return {
    address: phone.address,
    device: phone.device,
    name: device?.name ?? phone.device,
    model: device?.model ?? '',
    modelName: isKnown ? subject.model.name : (device?.model ?? ''),
    least: isKnown ? subject.model.firmwareLeast : null,
    person: isKnown && subject.person ? { id: subject.person.id, name: subject.person.name } : null,
    desk: isKnown && subject.desk ? { id: subject.desk.id, name: subject.desk.name } : null,
    credential: policy.credential,
    endpoint: isKnown ? subject.endpoint : null,
    state: progress.state,
    why: isKnown ? progress.why : subject.why,
    next: nextStep(progress, policy),
    tries: progress.tries,
    lockedUntil: iso(lockedUntil(progress, policy, context.services.now().getTime())),
    askedAt: iso(progress.askedMs),
    fetchedAt: iso(progress.fetchedMs),
    registeredAt: iso(progress.registeredMs),
    firmware: progress.firmware,
    hasCode: phone.codeHash !== null,
    codeUntil: phone.codeUntil,
    hasPin: isKnown && subject.person !== null && pins.has(subject.person.id),
    /** It was given settings that have changed since. */
    isBehind: settings !== null && !('why' in settings) && settings.serial !== progress.serial,
  };
}

/** All that the page of provisioned phones shows. */
export async function page(context: SignedIn) {
  const { services } = context;
  const { db } = services;
  const live = await services.store.current();
  const [policy, phones, pins, gathered, signedOn] = [
    await readPolicy(db),
    await readProvisioned(db),
    await readPinDates(db),
    await gather(db, services),
    await whoIsSignedOn(db).read(),
  ];
  return {
    body: {
      policy,
      tlsPort: services.tls()?.port ?? null,
      phones: phones.map((phone) => shown(context, live, phone, policy, pins, gathered, signedOn)),
      strangers: await readStrangers(db),
      images: await readFirmwareFiles(db),
      authorities: await readAuthorities(db),
    } satisfies ProvisioningPage,
  };
}
