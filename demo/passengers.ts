import { writeCsv } from '../core/formats';
import { FAMILY, GIVEN } from './names';

const BOOKED = 40;
/** A few live elsewhere, and one far enough away that it is night there. */
const ZONES: Readonly<Record<number, string>> = {
  7: 'America/Toronto',
  16: 'America/Toronto',
  23: 'America/St_Johns',
  31: 'Asia/Tokyo',
};

/** The passengers of a sailing, as its list would come from the bookings: made up, with what goes wrong in such lists. */
export function passengers(): string {
  const rows = Array.from({ length: BOOKED }, (_each, n) => [
    `${n % 2 === 0 ? '604' : '778'} 555 01${String(50 + n).padStart(2, '0')}`,
    `${GIVEN[(n * 7 + 3) % GIVEN.length]} ${FAMILY[(n * 5 + 11) % FAMILY.length]}`,
    ZONES[n] ?? 'America/Vancouver',
    `SK7-${1000 + n * 13}`,
    n % 5 === 0 ? 'car' : 'foot',
  ]);
  const faulty = [
    [rows[4]![0]!, `${rows[4]![1]} (again)`, 'America/Vancouver', 'SK7-1521', 'foot'],
    ['604 555', 'Half a Number', 'America/Vancouver', 'SK7-1534', 'foot'],
    ['778 555 0199', 'No Zone Given', '', 'SK7-1547', 'car'],
    ['911', 'Wrong Column', 'America/Vancouver', 'SK7-1560', 'foot'],
  ];
  return writeCsv(['Number', 'Passenger', 'Zone', 'Booking', 'Travels by'], [...rows, ...faulty]);
}
