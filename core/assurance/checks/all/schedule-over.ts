import { settingOf } from '../../../estate';
import type { Check } from '../types';

export const scheduleOver: Check = {
  id: 'schedule-over',
  of: 'organisation',
  weight: 'note',
  title: 'Hours that are over',
  looksFor: 'Schedules that have no weekly hours and whose dates all lie in the past.',
  why: 'Rules that ask for them never fire again.',
  run: ({ estate, nowMs }) => {
    const today = new Date(nowMs).toISOString().slice(0, 10);
    return estate.schedules
      .filter(({ weekly, open = [] }) => weekly.length === 0 && open.every(({ date }) => date < today))
      .map((schedule) => ({
        subject: { kind: 'schedule' as const, id: schedule.id, name: schedule.name },
        says: schedule.open?.length
          ? `“${schedule.name}” is over: its last date is past.`
          : `“${schedule.name}” has no hours at all.`,
        evidence: [{ text: 'The hours', setting: settingOf('schedules', schedule.id) }],
      }));
  },
};
