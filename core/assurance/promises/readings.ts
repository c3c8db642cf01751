import type { Ms } from '../../estate';
import type { BehaviourByEndpoint, Given } from './circumstances';

/** A look at a schedule so far into the call, as a number; what it found is added to twice that number. */
export type ScheduleReading = number;
export type ScheduleResult = number;

/** Numbers the looks at schedules, so that they can be kept and compared quickly. */
export function readings(): {
  readonly look: (schedule: string, atMs: Ms) => ScheduleReading;
  readonly of: (look: ScheduleReading) => { readonly schedule: string; readonly atMs: Ms };
} {
  const all: { readonly schedule: string; readonly atMs: Ms }[] = [];
  const known = new Map<string, Map<Ms, ScheduleReading>>();
  return {
    of: (look) => all[look]!,
    look: (schedule, atMs) => {
      let times = known.get(schedule);
      if (!times) {
        times = new Map();
        known.set(schedule, times);
      }
      let look = times.get(atMs);
      if (look === undefined) {
        look = all.push({ schedule, atMs }) - 1;
        times.set(atMs, look);
      }
      return look;
    },
  };
}

/** Names choices: all that is given, and what phones have done before a stage. Parts that come again are named once. */
export function choiceKeys(): (given: Given, behaviours: BehaviourByEndpoint, stage: number) => string {
  const numbers = new Map<string, number>();
  const objects = new WeakMap<object, number>();
  const numberOf = (object: object, text: () => string): number => {
    const known = objects.get(object);
    if (known !== undefined) return known;
    const key = text();
    const number = numbers.get(key) ?? numbers.size;
    numbers.set(key, number);
    objects.set(object, number);
    return number;
  };
  return (given, behaviours, stage) => {
    const { decided, ...rest } = given;
    let key = `${stage} ${numberOf(given, () => JSON.stringify([rest, [...decided].sort()]))}`;
    for (const endpoint in behaviours) {
      const does = behaviours[endpoint]!;
      key += ` ${endpoint} ${numberOf(does, () => JSON.stringify(does))}`;
    }
    return key;
  };
}
