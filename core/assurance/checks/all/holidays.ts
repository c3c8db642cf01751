import { settingOf } from '../../../estate';
import type { Check } from '../types';

const YEAR_MS = 365 * 24 * 3_600_000;
const MOST_DAYS = 5;

export const noHolidays: Check = {
  id: 'no-holidays',
  of: 'organisation',
  weight: 'note',
  title: 'Office hours without a holiday in the year to come',
  looksFor:
    'Weekly hours of at most five days a week with no date in the next year on which they are closed.',
  why: 'On the next holiday calls ring at empty desks.',
  run: ({ estate, nowMs }) => {
    const from = new Date(nowMs).toISOString().slice(0, 10);
    const to = new Date(nowMs + YEAR_MS).toISOString().slice(0, 10);
    return estate.schedules
      .filter(({ weekly, closed = [] }) => {
        const days = new Set(weekly.flatMap((span) => span.days));
        return days.size > 0 && days.size <= MOST_DAYS && !closed.some((date) => date >= from && date <= to);
      })
      .map((schedule) => ({
        subject: { kind: 'schedule' as const, id: schedule.id, name: schedule.name },
        says: `“${schedule.name}” is closed on no day of the year to come.`,
        evidence: [{ text: 'The hours', setting: settingOf('schedules', schedule.id, 'closed') }],
      }));
  },
};
