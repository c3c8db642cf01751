import { DateTime } from 'luxon';
import type { Wish } from '../../core/changes/own';
import { zoneNamed } from '../../core/zones';

/** Does what is wanted, or asks for it. */
export type Do = (wish: Wish) => void;

/** A moment in the organisation's zone, in words. */
export const dayTime = (iso: string, zone: string) =>
  DateTime.fromISO(iso, { zone: zoneNamed(zone) })
    .setLocale('en')
    .toFormat('ccc d LLL, HH:mm');
