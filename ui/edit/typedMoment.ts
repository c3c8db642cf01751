import { DateTime } from 'luxon';
import { zoneNamed } from '../../core/zones';

const FORM = 'yyyy-MM-dd HH:mm';

/** A day and hour as it is shown in a field. */
export const shownMoment = (at: DateTime): string => at.toFormat(FORM);

/** A day and hour as it was typed in a field, in the zone; null: it is none. */
export function typedMoment(text: string, zone: string): DateTime | null {
  const read = DateTime.fromFormat(text.trim(), FORM, { zone: zoneNamed(zone) });
  return read.isValid ? read : null;
}
