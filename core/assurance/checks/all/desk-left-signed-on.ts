import { settingOf } from '../../../estate';
import { sinceWords } from '../devices';
import type { Check } from '../types';

/** The longest that anybody works at a desk in one go. */
const LONGEST_SHIFT_MS = 14 * 3_600_000;

export const deskLeftSignedOn: Check = {
  id: 'desk-left-signed-on',
  of: 'device',
  weight: 'risk',
  title: 'Shared desk never signed off',
  looksFor: 'Shared desks where somebody has been signed on for longer than a shift lasts.',
  why: 'Their calls ring at a desk where somebody else sits, and the next person finds the desk taken.',
  run: (device, { finder, nowMs }) => {
    const { signedOn } = device;
    const person = signedOn && finder.person(signedOn.person);
    const forMs = signedOn ? nowMs - Date.parse(signedOn.since) : 0;
    if (!person || forMs <= LONGEST_SHIFT_MS) return [];
    const { signedOn: _gone, ...bare } = device;
    return [
      {
        says: `${person.name} has been signed on at ${device.name} for ${sinceWords(forMs)}.`,
        evidence: [{ text: 'Who is signed on', setting: settingOf('devices', device.id, 'signedOn') }],
        mend: {
          says: `sign ${person.name} off`,
          entries: [{ kind: 'device' as const, id: device.id, name: device.name, base: device, after: bare }],
        },
      },
    ];
  },
};
