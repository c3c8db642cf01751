import type { Schedule, ScheduleTest } from '../../core/estate';

/** Hours as one of a few: always, inside a schedule, or outside it. */
export const scheduleValue = (test: ScheduleTest | undefined): string =>
  test ? `${test.inside ? 'in' : 'out'}:${test.id}` : 'any';

export const scheduleOptions = (schedules: readonly Schedule[]) => [
  { value: 'any', label: 'Always' },
  ...schedules.flatMap(({ id, name }) => [
    { value: `in:${id}`, label: name },
    { value: `out:${id}`, label: `Outside ${name}` },
  ]),
];

export const scheduleOf = (value: string): ScheduleTest | undefined =>
  value === 'any' ? undefined : { id: value.slice(value.indexOf(':') + 1), inside: value.startsWith('in:') };
