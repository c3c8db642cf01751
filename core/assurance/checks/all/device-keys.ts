import { onceFor, settingOf, type Desk } from '../../../estate';
import { modelOf } from '../../../devices/phones';
import { keyFaults } from '../../../devices/provisioning';
import { whoseIs } from '../devices';
import type { Check } from '../types';

const NO_DESKS: readonly Desk[] = [];
const sharedPhones = onceFor((desks: readonly Desk[]) => new Set(desks.map(({ device }) => device)));

export const deviceKeys: Check = {
  id: 'device-keys',
  of: 'device',
  weight: 'note',
  title: 'Keys that do nothing',
  looksFor: 'Keys laid out on phones that have not so many, or that cannot do there what they are for.',
  why: 'Whoever presses them believes that twinning was switched or a colleague called.',
  run: (device, context) => {
    const { estate } = context;
    const isShared = sharedPhones(estate.desks ?? NO_DESKS).has(device.id);
    const person = device.endpoint === undefined ? undefined : context.owner(device.endpoint);
    const endpoint = device.endpoint === undefined ? undefined : context.endpoint(device.endpoint);
    return keyFaults(
      device,
      modelOf(device.model),
      { person, endpoint, isShared },
      estate.dialling.codes,
    ).map(({ at, says }) => ({
      detail: `key ${at}`,
      says: `Key ${at} of ${whoseIs(device, context)}: ${says}`,
      evidence: [{ text: 'Its keys', setting: settingOf('devices', device.id, 'keys') }],
    }));
  },
};
