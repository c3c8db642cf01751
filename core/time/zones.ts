import { IANAZone } from 'luxon';

/** Offsets from UTC in minutes, at each of a few moments, by zone. */
export type ZoneOffsets = Readonly<Record<string, readonly number[]>>;

const MONTH_MS = 30 * 86_400_000;
const MONTHS = 13;

/** The moments at which two programs compare what they know of zones: one a month for a year. */
const moments = (fromMs: number) => Array.from({ length: MONTHS }, (_, i) => fromMs + i * MONTH_MS);

/** What this program knows of zones, for another to compare. @param fromMs ms since 1970 */
export const zoneOffsets = (zones: readonly string[], fromMs: number): ZoneOffsets =>
  Object.fromEntries(
    [...new Set(zones)].map((zone) => [zone, moments(fromMs).map((at) => IANAZone.create(zone).offset(at))]),
  );

/**
 * The zones of which this program knows other offsets than the one that gave `theirs`: governments change them, and
 * what was built earlier does not know it.
 */
export const zonesThatDiffer = (theirs: ZoneOffsets, fromMs: number): readonly string[] =>
  Object.entries(theirs)
    .filter(([zone, offsets]) =>
      moments(fromMs).some((at, i) => IANAZone.create(zone).offset(at) !== offsets[i]),
    )
    .map(([zone]) => zone);
