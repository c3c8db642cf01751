import { queueOf, type QueueAnswer, type QueueLoad } from '../statistics';

/** What is wanted: this share of the calls answered within a time. */
export interface Wanted {
  /** Over 0, under 1. */
  readonly share: number;
  readonly withinS: number;
}
type Load = Omit<QueueLoad, 'servers' | 'withinS'>;

export const MOST_SEATS = 10_000;

/**
 * The fewest seats that answer the wanted share in time, by Erlang C or, with a patience, Erlang A.
 * @returns null: more than 10,000
 */
export function seatsNeeded(load: Load, { share, withinS }: Wanted): number | null {
  const isEnough = (servers: number) => queueOf({ ...load, servers, withinS }).within >= share;
  let most = 1;
  while (most < MOST_SEATS && !isEnough(most)) most = Math.min(MOST_SEATS, most * 2);
  if (!isEnough(most)) return null;
  let least = Math.floor(most / 2);
  while (most - least > 1) {
    const middle = (least + most) >> 1;
    if (isEnough(middle)) most = middle;
    else least = middle;
  }
  return most;
}

export interface CurvePoint extends QueueAnswer {
  readonly servers: number;
}
/** How it is with each number of seats. */
export const seatsCurve = (load: Load, withinS: number, from: number, to: number): readonly CurvePoint[] =>
  Array.from({ length: Math.max(0, to - from + 1) }, (_each, n) => ({
    servers: from + n,
    ...queueOf({ ...load, servers: from + n, withinS }),
  }));

/** A half hour of a forecast. */
export interface ForecastSlot {
  /** `HH:MM` at which it begins. */
  readonly at: string;
  /** Calls in the half hour. */
  readonly calls: number;
}
export interface StaffedSlot extends ForecastSlot {
  /** null: more than 10,000. */
  readonly seats: number | null;
}
/** How many seats each half hour needs. */
export function staffing(
  slots: readonly ForecastSlot[],
  load: Omit<Load, 'callsPerHour'>,
  wanted: Wanted,
): readonly StaffedSlot[] {
  const known = new Map<number, number | null>();
  return slots.map((slot) => {
    if (!known.has(slot.calls))
      known.set(
        slot.calls,
        slot.calls === 0 ? 0 : seatsNeeded({ ...load, callsPerHour: 2 * slot.calls }, wanted),
      );
    return { ...slot, seats: known.get(slot.calls) ?? null };
  });
}

export type ReadForecast =
  | { readonly ok: true; readonly slots: readonly ForecastSlot[] }
  | { readonly ok: false; readonly line: number; readonly message: string };

const LINE = /^(\d{1,2})[:.](00|30)[\s,;]+(\d{1,6}(?:[.,]\d+)?)$/;

/** A forecast as it is typed or pasted: a line for each half hour, its time and its calls, such as `08:30 14`. */
export function readForecast(text: string): ReadForecast {
  const slots: ForecastSlot[] = [];
  for (const [n, raw] of text.split(/\r?\n/).entries()) {
    const line = raw.trim();
    if (line === '') continue;
    const [, hour, minute, calls] = LINE.exec(line) ?? [];
    if (hour === undefined || minute === undefined || calls === undefined || Number(hour) > 23)
      return { ok: false, line: n + 1, message: 'A half hour and its calls, such as 08:30 14' };
    const at = `${hour.padStart(2, '0')}:${minute}`;
    if (slots.some((slot) => slot.at === at))
      return { ok: false, line: n + 1, message: `${at} stands there twice` };
    slots.push({ at, calls: Number(calls.replace(',', '.')) });
  }
  return { ok: true, slots: slots.sort((a, b) => a.at.localeCompare(b.at)) };
}
