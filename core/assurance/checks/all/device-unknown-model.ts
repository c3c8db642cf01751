import { settingOf } from '../../../estate';
import { modelOf } from '../../../devices/phones';
import { whoseIs } from '../devices';
import type { Check } from '../types';

export const deviceUnknownModel: Check = {
  id: 'device-unknown-model',
  of: 'device',
  weight: 'note',
  title: 'A model that is not in the catalogue',
  looksFor: 'Phones of a model that nothing is known of here.',
  why: 'Neither its firmware nor what it can do from outside can be checked, and there are no steps for its keypad.',
  run: (device, context) =>
    modelOf(device.model)
      ? []
      : [
          {
            says: `${whoseIs(device, context)} is a “${device.model}”, which the catalogue does not have.`,
            evidence: [{ text: 'Its model', setting: settingOf('devices', device.id, 'model') }],
          },
        ],
};
