import {
  getCountryCallingCode,
  parsePhoneNumberFromString,
  type CountryCode,
  type PhoneNumber,
} from 'libphonenumber-js/max';
import type { Dialling, E164, NumberClass } from '../../estate';

/** The class of a number for the organisation, or that it is no number that can be called. */
export type Classified = NumberClass | 'bad-number';

/** The calling code of a country, without `+`; null for a country that has none. */
export const callingCode = (country: string): string | null => {
  try {
    return getCountryCallingCode(country as CountryCode);
  } catch {
    return null;
  }
};

const specialClass = (type: string | undefined): 'toll-free' | 'premium' | null =>
  type === 'TOLL_FREE' ? 'toll-free' : type === 'PREMIUM_RATE' ? 'premium' : null;

/** The class of a number that has been read by the numbering plan's metadata. */
export function classify(parsed: PhoneNumber, dialling: Pick<Dialling, 'country' | 'areaCodes'>): Classified {
  if (!parsed.isPossible()) return 'bad-number';
  const { country } = dialling;
  const type = parsed.getType();
  const special = specialClass(type);
  // Where several countries share a calling code, a number can be special in one and plain in another.
  const isHome = parsed.countryCallingCode === callingCode(country);
  if (isHome && special) return special;
  if (isHome && parsed.country !== country) {
    const home = parsePhoneNumberFromString(parsed.nationalNumber, country as CountryCode);
    const there = specialClass(home?.getType());
    if (there) return there;
  }
  if (!parsed.country) return 'bad-number';
  if (parsed.country !== country) return 'international';
  if (type === 'MOBILE') return 'mobile';
  return dialling.areaCodes.some((code) => parsed.nationalNumber.startsWith(code)) ? 'local' : 'national';
}

/**
 * The class of an E.164 number by the numbering plan's metadata (libphonenumber-js, its `max` set), as seen from
 * the organisation's country and its local area codes.
 */
export function classOf(e164: E164, dialling: Pick<Dialling, 'country' | 'areaCodes'>): Classified {
  if (!/^\+\d+$/.test(e164)) return 'bad-number';
  const parsed = parsePhoneNumberFromString(e164);
  return parsed ? classify(parsed, dialling) : 'bad-number';
}

const MOST_REMEMBERED = 50_000;
const remembered = new WeakMap<Dialling, (e164: E164) => Classified>();

/** A `classOf` for one dial plan that remembers what it has worked out, for as long as the dial plan is there. */
export function classifier(dialling: Dialling): (e164: E164) => Classified {
  const made = remembered.get(dialling);
  if (made) return made;
  const known = new Map<E164, Classified>();
  const remember = (e164: E164): Classified => {
    const before = known.get(e164);
    if (before) return before;
    const found = classOf(e164, dialling);
    if (known.size > MOST_REMEMBERED) known.clear();
    known.set(e164, found);
    return found;
  };
  remembered.set(dialling, remember);
  return remember;
}
