import { zoneNamed } from '../../zones';

/** In which order the parts of a date stand. */
export const DATE_ORDERS = ['iso', 'dmy', 'mdy', 'epoch'] as const;
export type DateOrder = (typeof DATE_ORDERS)[number];

export type ReadMoment =
  | {
      readonly ok: true;
      readonly ms: number;
      /** The clock showed this twice: the first time is taken. */ readonly isTwice: boolean;
    }
  | { readonly ok: false; readonly why: string };

const no = (why: string): ReadMoment => ({ ok: false, why });
const DATE = /^(\d{1,4})[-./](\d{1,2})[-./](\d{1,4})$/;
const CLOCK =
  /^(\d{1,2}):?(\d{2})(?::?(\d{2})(?:[.,](\d{1,9}))?)?\s*([AaPp])?\.?(?:[Mm]\.?)?\s*(Z|[+-]\d{2}:?\d{2})?$/;
const FIRST_YEAR = 1990;
const LAST_YEAR = 2100;

/** The order in which dates stand that fits all of some; null: none does. Where two would, the day is first. */
export function guessOrder(dates: readonly string[]): DateOrder | null {
  const some = dates.map((date) => date.trim()).filter((date) => date !== '');
  if (some.length === 0) return null;
  if (some.every((date) => /^\d{10}(?:\d{3})?(?:\.\d+)?$/.test(date))) return 'epoch';
  const parts = some.map((date) => DATE.exec(date.split(/[T ]/)[0] ?? ''));
  if (parts.some((part) => part === null)) return null;
  const all = parts.map((part) => part!.slice(1, 4).map(Number));
  if (all.every(([first]) => first! > 31)) return 'iso';
  if (all.every(([day, month]) => day! <= 31 && month! <= 12)) return 'dmy';
  return all.every(([month, day]) => month! <= 12 && day! <= 31) ? 'mdy' : null;
}

/** Whether dates would be read the other way round without any looking wrong. */
export const isEitherOrder = (dates: readonly string[]): boolean =>
  dates.some((date) => DATE.test(date.split(/[T ]/)[0] ?? '')) &&
  dates.every((date) => {
    const [, first, second] = DATE.exec(date.trim().split(/[T ]/)[0] ?? '') ?? [];
    return Number(first) <= 12 && Number(second) <= 12;
  });

/** ms since 1970 of what a clock of a zone shows. */
function atZone(localMs: number, timeZone: string): ReadMoment {
  const zone = zoneNamed(timeZone);
  const offsets = new Set([-86_400_000, 0, 86_400_000].map((by) => zone.offset(localMs + by)));
  const fits = [...offsets]
    .map((offset) => localMs - offset * 60_000)
    .filter((ms) => ms + zone.offset(ms) * 60_000 === localMs)
    .sort((a, b) => a - b);
  const [first] = fits;
  if (first === undefined) return no('the clock never showed this: it was put forward over it');
  return { ok: true, ms: first, isTwice: fits.length > 1 };
}

/**
 * A moment from the text of a date and time, in the usual forms: ISO 8601, 24.11.2026 15:04:05, 11/24/2026 3:04 PM,
 * seconds or ms since 1970. Without an offset of its own it is by the clock of the zone.
 */
export function readMoment(text: string, order: DateOrder, timeZone: string): ReadMoment {
  const given = text.trim();
  if (given === '') return no('is missing');
  if (/^\d{10}(?:\d{3})?(?:\.\d+)?$/.test(given))
    return order === 'epoch' || order === 'iso'
      ? {
          ok: true,
          ms: Math.round(given.split('.')[0]!.length === 13 ? Number(given) : Number(given) * 1000),
          isTwice: false,
        }
      : no('is a count of seconds, where a date was expected');
  const [date = '', ...rest] = given.replace(/,\s*/, ' ').split(/[T ]+/);
  const clock = rest.join(' ');
  const [, a, b, c] = DATE.exec(date) ?? [];
  if (a === undefined) return no('is no date');
  const [x, y, z] = [Number(a), Number(b), Number(c)];
  const isYearFirst = a.length === 4 || x > 31;
  const [year, month, day] = isYearFirst
    ? [x, y, z]
    : order === 'mdy'
      ? [fullYear(z), x, y]
      : [fullYear(z), y, x];
  if (year < FIRST_YEAR || year > LAST_YEAR) return no(`is of the year ${year}`);
  const [, hh = '0', mm = '00', ss = '00', fraction = '0', half, offset] =
    clock === '' ? [] : (CLOCK.exec(clock) ?? []);
  if (clock !== '' && !CLOCK.test(clock)) return no('has no time of day that can be read');
  const hour = half === undefined ? Number(hh) : (Number(hh) % 12) + (/p/i.test(half) ? 12 : 0);
  const localMs =
    Date.UTC(year, month - 1, day, hour, Number(mm), Number(ss)) + Math.floor(Number(`0.${fraction}`) * 1000);
  const back = new Date(localMs);
  if (
    back.getUTCMonth() !== month - 1 ||
    back.getUTCDate() !== day ||
    hour > 23 ||
    Number(mm) > 59 ||
    Number(ss) > 59
  )
    return no('is a day or hour that does not exist');
  if (offset === undefined) return atZone(localMs, timeZone);
  const minutes =
    offset === 'Z'
      ? 0
      : Number(`${offset[0]}1`) * (Number(offset.slice(1, 3)) * 60 + Number(offset.slice(-2)));
  return { ok: true, ms: localMs - minutes * 60_000, isTwice: false };
}
const fullYear = (year: number): number => (year < 100 ? 2000 + year : year);

const DAY_MS = 86_400_000;
export type ReadLength =
  | { readonly ok: true; readonly ms: number }
  | { readonly ok: false; readonly why: string };
/** A length of time: seconds, m:ss or h:mm:ss, with parts of a second or a unit (s, ms). */
export function readLength(text: string): ReadLength {
  const given = text.trim().toLowerCase();
  if (/^[-−]/.test(given)) return { ok: false, why: 'is less than nothing' };
  const [, hours = '0', minutes = '0', seconds] =
    /^(?:(?:(\d{1,4}):)?(\d{1,4}):)?(\d{1,7}(?:[.,]\d{1,6})?)\s*s?$/.exec(given) ?? [];
  const inMs = /^(\d{1,10})\s*ms$/.exec(given);
  if (!inMs && seconds === undefined)
    return { ok: false, why: 'is no length of time: write seconds, or h:mm:ss' };
  const ms = inMs
    ? Number(inMs[1])
    : Math.round((Number(hours) * 3600 + Number(minutes) * 60 + Number(seconds!.replace(',', '.'))) * 1000);
  return ms > DAY_MS ? { ok: false, why: 'is longer than a day' } : { ok: true, ms };
}
