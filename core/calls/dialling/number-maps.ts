import {
  parsePhoneNumberFromString,
  validatePhoneNumberLength,
  type CountryCode,
} from 'libphonenumber-js/max';
import type { Dialling, E164, Form, NumberClass } from '../../estate';
import { callingCode } from './classes';
import { dialString } from './dial-string';

const LENGTHS = Array.from({ length: 13 }, (_, i) => i + 4);
/** With its country code a number abroad has from 8 digits to the 15 that E.164 allows. */
const ABROAD_DIGITS = Array.from({ length: 8 }, (_, i) => i + 8);
const kept = new Map<string, readonly E164[]>();

/** How many digits national numbers of a country can have, by the numbering plan's metadata. */
const nationalLengths = (country: string): readonly number[] =>
  LENGTHS.filter(
    (length) => validatePhoneNumberLength('2'.repeat(length), country as CountryCode) === undefined,
  );

/** National numbers of a country, as positions of a digit map (RFC 3435), by their lengths. */
function nationalMaps(country: string): readonly string[] {
  // The North American plan: an area code and an exchange code that both begin with 2 to 9.
  if (callingCode(country) === '1') return ['[2-9]xx[2-9]xxxxxx'];
  return nationalLengths(country).map((length) => `[1-9]${'x'.repeat(length - 1)}`);
}

/**
 * Where premium numbers of a country begin, by the numbering plan's metadata: the calling code and three digits.
 */
export function premiumPrefixes(country: string): readonly E164[] {
  const before = kept.get(country);
  if (before) return before;
  const code = callingCode(country);
  const found: E164[] = [];
  for (let head = 100; code !== null && head < 1000; head += 1) {
    const isPremium = nationalLengths(country).some((length) =>
      ['2345678901', '0000000000'].some(
        (rest) =>
          parsePhoneNumberFromString(`+${code}${head}${rest.slice(0, length - 3)}`)?.getType() ===
          'PREMIUM_RATE',
      ),
    );
    if (isPremium) found.push(`+${code}${head}`);
  }
  kept.set(country, found);
  return found;
}

/** A number in the form in which a system sends and expects it. */
export function inForm(e164: E164, form: Form, dialling: Dialling): string {
  if (form === 'e164') return e164;
  if (form !== 'national') return dialString(e164, dialling);
  const code = callingCode(dialling.country);
  return code !== null && e164.startsWith(`+${code}`)
    ? e164.slice(code.length + 1)
    : dialString(e164, dialling);
}

/**
 * What lines that may call some classes can dial, as digit maps (RFC 3435) in the form in which a system sends it.
 * Special numbers are not among them: their own rules decide.
 */
export function dialledMaps(classes: ReadonlySet<NumberClass>, form: Form, dialling: Dialling): string[] {
  const code = callingCode(dialling.country);
  if (code === null) return [];
  const { outsideCode, nationalPrefix, internationalPrefix, areaCodes, localWithPrefix = false } = dialling;
  const maps: string[] = [];
  const national = nationalMaps(dialling.country);
  const withHead = (isLocal: boolean) =>
    form === 'e164'
      ? `+${code}`
      : form === 'national'
        ? ''
        : outsideCode + (isLocal && !localWithPrefix ? '' : nationalPrefix);
  if (classes.has('local'))
    for (const area of areaCodes)
      for (const map of national) {
        // The area takes the first positions of the map.
        const positions = map.match(/\[[^\]]*\]|x/g) ?? [];
        if (positions.length > area.length)
          maps.push(withHead(true) + area + positions.slice(area.length).join(''));
      }
  if (classes.has('national') || classes.has('mobile'))
    for (const map of national) maps.push(withHead(false) + map);
  if (classes.has('international'))
    maps.push(
      `(${ABROAD_DIGITS.map((digits) => `${form === 'e164' ? '+' : outsideCode + internationalPrefix}[2-9]${'x'.repeat(digits - 1)}`).join('|')})`,
    );
  return maps;
}
