import { settingOf } from '../../../estate';
import { whoseIs } from '../devices';
import type { Check } from '../types';

export const deviceNotLetIn: Check = {
  id: 'device-not-let-in',
  of: 'device',
  weight: 'fault',
  title: 'Remote registration not allowed',
  looksFor: 'Phones that stand outside, on lines that may register from inside only.',
  why: 'It asks to register and gets no answer, whatever is set on it.',
  run: (device, context) =>
    device.natMethod === undefined ||
    device.natMethod === 'vpn' ||
    device.natMethod === 'branch-relay' ||
    device.remoteRegistration === true
      ? []
      : [
          {
            says: `${whoseIs(device, context)} stands outside, and its line may register from inside only.`,
            evidence: [
              {
                text: 'Remote registration allowed',
                setting: settingOf('devices', device.id, 'remoteRegistration'),
              },
            ],
            mend: {
              says: 'let it in from outside',
              entries: [
                {
                  kind: 'device' as const,
                  id: device.id,
                  name: device.name,
                  base: device,
                  after: { ...device, remoteRegistration: true },
                },
              ],
            },
          },
        ],
};
