import type { ProvisioningPage } from '../../api/provisioning';
import {
  afterStep,
  lockedUntil,
  nextStep,
  type Progress,
  type ProvisioningPolicy,
} from '../../core/devices/provisioning';
import type { LiveEstate } from '../estate';
import type { SignedIn } from '../http';
import { readAuthorities } from './authority';
import {
  readFirmwareFiles,
  readPinDates,
  readPolicy,
  readProvisioned,
  readStrangers,
  type ProvisionedPhone,
} from './queries';
import { gather, settingsWith, subjectOf, type Gathered } from './settings';

/** How far a phone has come, as it is now: one that has its settings and is there has registered. */
function progressNow(
  { services }: SignedIn,
  progress: Progress,
  endpoint: string | null,
  policy: ProvisioningPolicy,
): Progress {
  const { fetchedMs } = progress;
  const registration = services.phones
    .registrations()
    .find((each) => each.endpoint === endpoint && fetchedMs !== null && each.refreshedMs >= fetchedMs);
  const isSet = ['fetched', 'restarting'].includes(progress.state);
  if (isSet && registration) return afterStep(progress, { kind: 'registered' }, registration.refreshedMs);
  if (lockedUntil(progress, policy, services.now().getTime()) !== null)
    return { ...progress, state: 'locked' };
  // As it was kept before the source was held up instead of the phone.
  return progress.state === 'locked' ? { ...progress, state: 'asked' } : progress;
}

const iso = (ms: number | null) => (ms === null ? null : new Date(ms).toISOString());

function shown(
  context: SignedIn,
  live: LiveEstate,
  phone: ProvisionedPhone,
  policy: ProvisioningPolicy,
  pins: ReadonlyMap<string, string>,
  gathered: Gathered,
) {
  const subject = subjectOf(live, phone.device);
  const device = live.estate.devices?.find(({ id }) => id === phone.device);
  const isKnown = !('why' in subject);
  const progress = progressNow(context, phone.progress, isKnown ? subject.endpoint : null, policy);
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
    person: isKnown ? { id: subject.person.id, name: subject.person.name } : null,
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
    hasPin: isKnown && pins.has(subject.person.id),
    /** It was given settings that have changed since. */
    isBehind: settings !== null && !('why' in settings) && settings.serial !== progress.serial,
  };
}

/** All that the page of provisioned phones shows. */
export async function page(context: SignedIn) {
  const { services } = context;
  const { db } = services;
  const live = await services.store.current();
  const [policy, phones, pins, gathered] = [
    await readPolicy(db),
    await readProvisioned(db),
    await readPinDates(db),
    await gather(db, services),
  ];
  return {
    body: {
      policy,
      tlsPort: services.tls()?.port ?? null,
      phones: phones.map((phone) => shown(context, live, phone, policy, pins, gathered)),
      strangers: await readStrangers(db),
      images: await readFirmwareFiles(db),
      authorities: await readAuthorities(db),
    } satisfies ProvisioningPage,
  };
}
