import { settingOf } from '../../../estate';
import { modelOf } from '../../../devices/phones';
import { devicesIn } from '../devices';
import type { Check } from '../types';

export const deviceFactoryPassword: Check = {
  id: 'device-factory-password',
  of: 'organisation',
  weight: 'fault',
  title: 'Factory password',
  looksFor: 'Phones whose password has not been changed from the one they came with.',
  why: 'Anybody who knows the model can log in, read the line’s secret and place calls on it.',
  run: (context) =>
    devicesIn(context).flatMap(({ device, subject, whose }) => {
      const model = modelOf(device.model);
      if (device.passwordChanged === true || model?.factoryPassword === null) return [];
      return [
        {
          subject,
          says: `${whose} still has the password that every ${model?.name ?? 'phone of its model'} comes with.`,
          evidence: [
            {
              text: model ? `At its keypad: ${model.menus.password.join(', ')}` : 'Its password',
              setting: settingOf('devices', device.id, 'passwordChanged'),
            },
          ],
          weight: device.natMethod === undefined ? ('risk' as const) : ('fault' as const),
        },
      ];
    }),
};
