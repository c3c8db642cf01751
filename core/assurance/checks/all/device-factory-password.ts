import { settingOf } from '../../../estate';
import { modelOf } from '../../../devices/phones';
import { whoseIs } from '../devices';
import type { Check } from '../types';

export const deviceFactoryPassword: Check = {
  id: 'device-factory-password',
  of: 'device',
  weight: 'fault',
  title: 'Factory password',
  looksFor: 'Phones whose password has not been changed from the one they came with.',
  why: 'Anybody who knows the model can log in, read the line’s secret and place calls on it.',
  run: (device, context) => {
    const model = modelOf(device.model);
    if (device.passwordChanged === true || model?.factoryPassword === null) return [];
    return [
      {
        says: `${whoseIs(device, context)} still has the password that every ${model?.name ?? 'phone of its model'} comes with.`,
        evidence: [
          {
            text: model ? `At its keypad: ${model.menus.password.join(', ')}` : 'Its password',
            setting: settingOf('devices', device.id, 'passwordChanged'),
          },
        ],
        weight: device.natMethod === undefined ? ('risk' as const) : ('fault' as const),
      },
    ];
  },
};
