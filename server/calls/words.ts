import { DateTime } from 'luxon';
import { zoneNamed } from '../../core/zones';

/** A moment as it is said: “24 Nov, 15:04”. */
export const sayMoment = (ms: number, zone: string): string =>
  DateTime.fromMillis(ms, { zone: zoneNamed(zone) })
    .setLocale('en-GB')
    .toFormat('d LLL, HH:mm');
export const sayTime = (ms: number, zone: string): string =>
  DateTime.fromMillis(ms, { zone: zoneNamed(zone) }).toFormat('HH:mm');
