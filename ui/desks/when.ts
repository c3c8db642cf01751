import { DateTime } from 'luxon';
import { zoneNamed } from '../../core/zones';

/** A moment as it is said beside a desk: the hour today, else the day too. */
export function sayWhen(iso: string, zone: string): string {
  const at = DateTime.fromISO(iso, { zone: zoneNamed(zone) }).setLocale('en');
  return at.hasSame(DateTime.now().setZone(zoneNamed(zone)), 'day')
    ? at.toFormat('HH:mm')
    : at.toFormat('ccc d LLL, HH:mm');
}
