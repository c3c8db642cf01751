import { parsePhoneNumberFromString, getCountryCallingCode, type CountryCode } from 'libphonenumber-js/max';
import type { Dialling, E164, NumberClass, Permission, Trunk } from '../estate';

/** The class of a number for the organisation, or that it is no number that can be called. */
export type Classified = NumberClass | 'bad-number';

const calledCode = (country: string): string | null => {
  try {
    return getCountryCallingCode(country as CountryCode);
  } catch {
    return null;
  }
};

const specialClass = (type: string | undefined): 'toll-free' | 'premium' | null =>
  type === 'TOLL_FREE' ? 'toll-free' : type === 'PREMIUM_RATE' ? 'premium' : null;

/**
 * The class of an E.164 number by the numbering plan's metadata (libphonenumber-js, its `max` set), as seen from
 * the organisation's country and its local area codes.
 */
export function classOf(e164: E164, dialling: Pick<Dialling, 'country' | 'areaCodes'>): Classified {
  if (!/^\+\d+$/.test(e164)) return 'bad-number';
  const parsed = parsePhoneNumberFromString(e164);
  if (!parsed || !parsed.isPossible()) return 'bad-number';
  if (parsed.countryCallingCode === calledCode(dialling.country)) {
    const home = parsePhoneNumberFromString(parsed.nationalNumber, dialling.country as CountryCode);
    const special = specialClass(parsed.getType()) ?? specialClass(home?.getType());
    if (special) return special;
  }
  if (!parsed.country) return 'bad-number';
  if (parsed.country !== dialling.country) return 'international';
  if (parsed.getType() === 'MOBILE') return 'mobile';
  return dialling.areaCodes.some((code) => parsed.nationalNumber.startsWith(code)) ? 'local' : 'national';
}

/** A `classOf` for one dial plan that remembers what it has worked out. */
export function classifier(dialling: Dialling): (e164: E164) => Classified {
  const known = new Map<E164, Classified>();
  return (e164) => {
    const before = known.get(e164);
    if (before) return before;
    const found = classOf(e164, dialling);
    if (known.size > 50_000) known.clear();
    known.set(e164, found);
    return found;
  };
}

/** Whether a permission lets this number be called: deny beats allow, both beat the class. */
export function permits(permission: Permission, e164: E164, numberClass: NumberClass): boolean {
  if (permission.denyPrefixes?.some((prefix) => e164.startsWith(prefix))) return false;
  if (permission.allowPrefixes?.some((prefix) => e164.startsWith(prefix))) return true;
  return permission.allow.includes(numberClass);
}

/** The trunks that carry a class, in the order in which they are tried. */
export const trunksFor = (trunks: readonly Trunk[], numberClass: NumberClass): readonly Trunk[] =>
  trunks.filter((trunk) => trunk.carries.includes(numberClass));

/** What the system sends to reach a number of this class: the digits with the outside code and prefixes. */
export function dialString(e164: E164, dialling: Dialling): string {
  const digits = e164.slice(1);
  const home = calledCode(dialling.country) ?? '';
  if (!digits.startsWith(home)) return dialling.outsideCode + dialling.internationalPrefix + digits;
  const national = digits.slice(home.length);
  const local = dialling.areaCodes.some((code) => national.startsWith(code));
  return (
    dialling.outsideCode + (local && !dialling.localWithPrefix ? '' : dialling.nationalPrefix) + national
  );
}

export type ReadNumber =
  | { readonly ok: true; readonly e164: E164; readonly numberClass: NumberClass }
  | { readonly ok: false; readonly reason: string };

/**
 * Reads an outside number typed or pasted in any usual form, with or without the country, the national prefix or
 * the organisation's outside code.
 * @returns the number as E.164 with its class, or in words why it is none.
 */
export function readNumber(text: string, dialling: Dialling): ReadNumber {
  const trimmed = text.trim().replace(/^tel:/i, '');
  if (trimmed === '') return { ok: false, reason: 'no number given' };
  if (/[a-z]/i.test(trimmed.replace(/;.*$/, '')))
    return { ok: false, reason: 'a number is written in digits, not letters' };
  const bare = trimmed.replace(/;.*$/, '').replace(/[\s().\-/\u00a0\u2010-\u2015]/g, '');
  if (!/^\+?\d+$/.test(bare)) return { ok: false, reason: 'a number has only digits and a leading +' };
  if (bare.replace('+', '').length > 20) return { ok: false, reason: 'too long for a telephone number' };
  const candidates: string[] = [];
  if (bare.startsWith('+')) candidates.push(bare);
  else {
    const international = dialling.internationalPrefix;
    const outside = dialling.outsideCode;
    for (const form of outside && bare.startsWith(outside) ? [bare, bare.slice(outside.length)] : [bare]) {
      if (international && form.startsWith(international))
        candidates.push(`+${form.slice(international.length)}`);
      else candidates.push(form);
    }
    const code = dialling.areaCodes.length === 1 ? dialling.areaCodes[0] : undefined;
    if (code) candidates.push(code + bare);
  }
  for (const candidate of candidates) {
    const parsed = parsePhoneNumberFromString(candidate, dialling.country as CountryCode);
    if (!parsed?.isValid()) continue;
    const numberClass = classOf(parsed.number, dialling);
    if (numberClass !== 'bad-number') return { ok: true, e164: parsed.number, numberClass };
  }
  return { ok: false, reason: 'the numbering plan has no such number; add the area or the country' };
}

/**
 * A number as it is shown everywhere: country code, then the national number in its usual groups, single spaces.
 * `+12505550101` is `+1 250 555 0101`. What cannot be read is given back as it is.
 */
export function showNumber(e164: E164): string {
  const parsed = parsePhoneNumberFromString(e164);
  return parsed ? parsed.formatInternational().replace(/-/g, ' ') : e164;
}

/** A text with every E.164 number in it as it is shown everywhere. */
export const showNumbersIn = (text: string): string => text.replace(/\+[1-9]\d{6,17}/g, showNumber);
