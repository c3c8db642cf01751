import { NAMED, choice, count, flag, number, object, text, type FieldsOf } from './kinds';
import type { AccessNumber, DayLimit, Screening } from '../access-types';
import { scheduleTest } from './plan';

export const access: FieldsOf<AccessNumber> = {
  ...NAMED,
  number: number('number'),
  knows: flag('knows staff by the number that they call from'),
  onlyVerified: flag('only by numbers that the carrier has verified'),
  pin: choice('asks for a PIN'),
  presents: text('number shown'),
  schedule: object('hours', () => scheduleTest),
  hangUp: choice('when somebody who is known hangs up before the answer'),
};
export const dayLimit: FieldsOf<DayLimit> = {
  minutes: count('minutes a day'),
  money: { says: 'money a day', holds: 'money' },
};
export const screening: FieldsOf<Screening> = {
  allows: number('numbers that may show, beginning with'),
  otherwise: choice('what the carrier does with others'),
};
