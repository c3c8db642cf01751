import { CIVIC_ELEMENTS, type Civic, type SaidPlace } from './civic-types';
import { closed, date, list, requiredText, text } from './yup-parts';

const COUNTRY = /^[A-Z]{2}$/;
export const civicSchema = () =>
  closed<Civic>({
    ...(Object.fromEntries(CIVIC_ELEMENTS.map((name) => [name, text(120)])) as Record<
      (typeof CIVIC_ELEMENTS)[number],
      ReturnType<typeof text>
    >),
    country: text(2).matches(COUNTRY, 'must be a country of ISO 3166 such as CA'),
  });
export const saidPlaceSchema = () =>
  closed<SaidPlace>({
    civic: civicSchema(),
    saidOn: date().required('is missing'),
    by: requiredText(120),
    from: text(120),
  });

const CIDR = /^(\d{1,3})\.(\d{1,3})\.(\d{1,3})\.(\d{1,3})\/(\d|[12]\d|3[0-2])$/;
/** Whether a text is a range of IPv4 addresses (RFC 4632), its host part nought. */
export function isCidr(range: string): boolean {
  const parts = CIDR.exec(range)?.slice(1).map(Number);
  if (!parts || parts.slice(0, 4).some((part) => part > 255)) return false;
  const [a = 0, b = 0, c = 0, d = 0, length = 0] = parts;
  const address = ((a * 256 + b) * 256 + c) * 256 + d;
  return address % 2 ** (32 - length) === 0;
}
export const rangesSchema = () =>
  list(
    requiredText(18).test(
      'cidr',
      'must be a range such as 203.0.113.0/24',
      (value) => value === undefined || isCidr(value),
    ),
  );
