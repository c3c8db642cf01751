import { settingOf } from '../../../estate';
import { isNewEnough, modelOf } from '../../../devices/phones';
import { whoseIs } from '../devices';
import type { Check } from '../types';

export const deviceOldFirmware: Check = {
  id: 'device-old-firmware',
  of: 'device',
  weight: 'risk',
  title: 'Old firmware',
  looksFor: 'Phones that run less than their model needs.',
  why: 'It is a usual reason why a phone does not register, or stops after a while.',
  run: (device, context) => {
    const model = modelOf(device.model);
    if (!model || device.firmware === undefined) return [];
    if (isNewEnough(device.firmware, model.firmwareLeast)) return [];
    return [
      {
        says: `${whoseIs(device, context)} runs ${device.firmware}; a ${model.name} needs ${model.firmwareLeast} at least.`,
        evidence: [{ text: 'Its firmware', setting: settingOf('devices', device.id, 'firmware') }],
      },
    ];
  },
};
