import { settingOf } from '../../../estate';
import { modelOf } from '../../../devices/phones';
import { keyFaults } from '../../../devices/provisioning';
import { devicesIn } from '../devices';
import type { Check } from '../types';

export const deviceKeys: Check = {
  id: 'device-keys',
  of: 'organisation',
  weight: 'note',
  title: 'Keys that do nothing',
  looksFor: 'Keys laid out on phones that have not so many, or that cannot do there what they are for.',
  why: 'Whoever presses them believes that twinning was switched or a colleague called.',
  run: (context) => {
    const desks = new Set((context.estate.desks ?? []).map(({ device }) => device));
    return devicesIn(context).flatMap(({ device, subject, whose }) => {
      const person = device.endpoint === undefined ? undefined : context.owner(device.endpoint);
      const endpoint = device.endpoint === undefined ? undefined : context.endpoint(device.endpoint);
      return keyFaults(
        device,
        modelOf(device.model),
        { person, endpoint, isShared: desks.has(device.id) },
        context.estate.dialling.codes,
      ).map(({ at, says }) => ({
        subject,
        detail: `key ${at}`,
        says: `Key ${at} of ${whose}: ${says}`,
        evidence: [{ text: 'Its keys', setting: settingOf('devices', device.id, 'keys') }],
      }));
    });
  },
};
