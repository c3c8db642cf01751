import { settingOf } from '../../../estate';
import { modelOf } from '../../../devices/phones';
import { METHOD_WORDS, whoseIs } from '../devices';
import type { Check } from '../types';

export const deviceNatMethod: Check = {
  id: 'device-nat-method',
  of: 'device',
  weight: 'fault',
  title: 'A way through routers that the phone does not know',
  looksFor: 'Phones outside set to a method that their model does not support.',
  why: 'It registers or not by luck, and sound goes one way only.',
  run: (device, context) => {
    const model = modelOf(device.model);
    const { natMethod } = device;
    if (!model || natMethod === undefined || model.methods.includes(natMethod)) return [];
    const others = model.methods.filter((each) => each !== 'direct');
    const [first] = others;
    return [
      {
        says: `${whoseIs(device, context)} is set to get out by ${METHOD_WORDS[natMethod]}, which a ${model.name} cannot; it can by ${others.map((each) => METHOD_WORDS[each]).join(', ')}.`,
        evidence: [{ text: 'The method', setting: settingOf('devices', device.id, 'natMethod') }],
        mend: first
          ? {
              says: `by ${METHOD_WORDS[first]}`,
              entries: [
                {
                  kind: 'device' as const,
                  id: device.id,
                  name: device.name,
                  base: device,
                  after: { ...device, natMethod: first },
                },
              ],
            }
          : null,
      },
    ];
  },
};
