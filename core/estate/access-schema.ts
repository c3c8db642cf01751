import { mixed } from 'yup';
import { ACCESS_PINS, HANG_UPS, SCREENS } from './access-types';
import type { AccessNumber, DayLimit, Screening, Showing } from './access-types';
import { prefix, scheduleTest } from './plan-schema';
import {
  closed,
  count,
  e164,
  flag,
  id,
  list,
  oneOf,
  requiredId,
  requiredList,
  requiredText,
} from './yup-parts';

const E164_NUMBER = /^\+[1-9]\d{1,18}$/;
const shown = (...words: readonly string[]) =>
  mixed().test(
    'shown',
    `must be ${words.join(', ')}, or an E.164 number: + and digits, without spaces`,
    (value) =>
      value === undefined ||
      (typeof value === 'string' && (words.includes(value) || E164_NUMBER.test(value))),
  );

export const accessNumberSchema = closed<AccessNumber>({
  id: requiredId(),
  name: requiredText(120),
  number: e164().required('is missing'),
  knows: flag(),
  onlyVerified: flag(),
  pin: oneOf(ACCESS_PINS),
  presents: shown('own', 'organisation'),
  schedule: scheduleTest(),
  hangUp: oneOf(HANG_UPS),
});
export const showingSchema = list(
  closed<Showing>({
    status: id(),
    shows: shown('own', 'organisation', 'withheld').required('is missing'),
  }),
);
/** A day has so many minutes; money up to a hundred thousand. */
export const dayLimitSchema = closed<DayLimit>({ minutes: count(1, 1440), money: count(1, 10_000_000_000) });
export const screeningSchema = closed<Screening>({
  allows: requiredList(prefix()),
  otherwise: oneOf(SCREENS).required('is missing'),
});
