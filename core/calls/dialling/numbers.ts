import { parsePhoneNumberFromString, type CountryCode } from 'libphonenumber-js/max';
import type { Dialling, E164, NumberClass } from '../../estate';
import { classOf } from './classes';

const FORMATTING = /[\s().\-/\u00a0\u2010-\u2015\u2212]/g;

/** What is left of a number without `tel:`, its parameters (RFC 3966) and formatting. */
export const bareNumber = (text: string): string =>
  text.trim().replace(/^tel:/i, '').replace(/;.*$/s, '').replace(FORMATTING, '');

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
  const bare = bareNumber(trimmed);
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
  return parsed?.isPossible() ? parsed.formatInternational().replace(/-/g, ' ') : e164;
}

/** A text with every E.164 number in it as it is shown everywhere. */
export const showNumbersIn = (text: string): string => text.replace(/\+[1-9]\d{6,17}/g, showNumber);
