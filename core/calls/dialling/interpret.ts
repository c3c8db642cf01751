import {
  getCountryCallingCode,
  parsePhoneNumberFromString,
  validatePhoneNumberLength,
  type CountryCode,
} from 'libphonenumber-js/max';
import type { Dialling, E164, NumberClass } from '../../estate';
import { classify } from './classes';
import { dialString } from './dial-string';
import { emergencyNumbers } from './emergency';
import { bareNumber } from './numbers';

export const DIAL_FAULTS = [
  'empty',
  'letters',
  'too-short',
  'too-long',
  'which-area',
  'no-such-extension',
  'no-such-code',
  'not-a-number',
  'emergency-number',
  'outside-code-twice',
] as const;
export type DialFault = (typeof DIAL_FAULTS)[number];
export type DialNote = 'outside-code-added' | 'area-code-added';

/** What somebody typed, as the system understands it. */
export interface Interpreted {
  readonly kind: 'extension' | 'number' | 'sip' | 'code' | 'invalid';
  readonly extension?: string;
  readonly e164?: E164;
  /** A SIP URI (RFC 3261). */
  readonly uri?: string;
  readonly code?: string;
  readonly class?: NumberClass;
  /** What is sent: for a number, the digits with the outside code and prefixes. */
  readonly dialAs?: string;
  readonly faults: readonly DialFault[];
  readonly notes: readonly DialNote[];
}

/** Longer than anything that can be dialled: 15 digits of E.164 with the longest prefixes before them. */
const MOST_DIGITS = 32;
const MOST_CHARACTERS = 500;
const SIP =
  /^(sips?:)?([^@\s:;<>"]+)@(\[[0-9a-f:]+\]|[a-z0-9](?:[a-z0-9.-]*[a-z0-9])?)(:\d{1,5})?((?:[;?][^\s<>"]*)?)$/i;

const invalid = (fault: DialFault): Interpreted => ({ kind: 'invalid', faults: [fault], notes: [] });

/** A dial plan made ready for reading many numbers. */
export interface DialReader {
  readonly interpret: (text: string) => Interpreted;
}

/**
 * Makes a dial plan ready.
 * @param extensions the extensions of the estate
 */
export function dialReader(dialling: Dialling, extensions: ReadonlySet<string>): DialReader {
  const country = dialling.country as CountryCode;
  const { outsideCode, nationalPrefix, internationalPrefix, areaCodes, extensionDigits } = dialling;
  const codes = new Set((dialling.codes ?? []).map(({ code }) => code));
  let calling = '';
  try {
    calling = getCountryCallingCode(country);
  } catch {
    // A country without a calling code has no national numbers; those with a + are read all the same.
  }
  const emergencies = new Set(emergencyNumbers(dialling.country));

  /** An E.164 candidate as a number, if it is one and nothing had to be taken off it. */
  const asNumber = (candidate: string, exact: boolean, notes: readonly DialNote[]): Interpreted | null => {
    const parsed = parsePhoneNumberFromString(candidate);
    if (!parsed || (exact && parsed.number !== candidate)) return null;
    const numberClass = classify(parsed, dialling);
    if (numberClass === 'bad-number') return null;
    const e164 = parsed.number;
    return {
      kind: 'number',
      e164,
      class: numberClass,
      dialAs: dialString(e164, dialling),
      faults: [],
      notes,
    };
  };
  const national = (digits: string, notes: readonly DialNote[]) =>
    calling === '' ? null : asNumber(`+${calling}${digits}`, true, notes);
  const isLocal = (digits: string) => areaCodes.some((area) => digits.startsWith(area));

  /** Steps 5 and 6: with the international prefix, with the national one, and local without one. */
  const prefixed = (digits: string, notes: readonly DialNote[]): Interpreted | null =>
    (digits.startsWith(internationalPrefix) && digits.length > internationalPrefix.length
      ? asNumber(`+${digits.slice(internationalPrefix.length)}`, true, notes)
      : null) ??
    (digits.startsWith(nationalPrefix) ? national(digits.slice(nationalPrefix.length), notes) : null) ??
    (isLocal(digits) ? national(digits, notes) : null);

  const subscriber = (digits: string): Interpreted | null => {
    const found = areaCodes.flatMap((area) => national(area + digits, ['area-code-added']) ?? []);
    if (areaCodes.length === 1) return found[0] ?? null;
    return found.length > 0 ? invalid('which-area') : null;
  };

  /** Why digits are nothing that can be dialled. */
  const faultOf = (digits: string): DialFault => {
    if (
      outsideCode !== '' &&
      digits.startsWith(outsideCode + outsideCode) &&
      prefixed(digits.slice(2 * outsideCode.length), []) !== null
    )
      return 'outside-code-twice';
    if (digits.length === extensionDigits) return 'no-such-extension';
    const bare =
      outsideCode !== '' && digits.startsWith(outsideCode) ? digits.slice(outsideCode.length) : digits;
    const length =
      internationalPrefix !== '' && bare.startsWith(internationalPrefix)
        ? validatePhoneNumberLength(`+${bare.slice(internationalPrefix.length)}`)
        : validatePhoneNumberLength(
            bare.startsWith(nationalPrefix) ? bare.slice(nationalPrefix.length) : bare,
            country,
          );
    return faultOfLength(length);
  };

  const interpret = (text: string): Interpreted => {
    if (text.length > MOST_CHARACTERS) return invalid('too-long');
    const given = text.trim();
    if (given === '') return invalid('empty');
    if (given.includes('@') || /^sips?:/i.test(given)) return asSip(given);
    const bare = bareNumber(given);
    if (bare === '') return invalid('empty');
    const isOutside = bare.startsWith(outsideCode);
    const outside = isOutside ? bare.slice(outsideCode.length) : '';
    if (codes.has(bare)) return { kind: 'code', code: bare, dialAs: bare, faults: [], notes: [] };
    if (/^[*#]/.test(bare)) {
      // An outside code may begin so too; then there is no reading without it.
      if (!isOutside || !/^[*#]/.test(outsideCode) || !/^[0-9]+$/.test(outside))
        return invalid('no-such-code');
      if (emergencies.has(outside)) return invalid('emergency-number');
      return prefixed(outside, []) ?? invalid(faultOf(bare));
    }
    if (/\p{L}/u.test(bare)) return invalid('letters');
    if (!/^\+?[0-9]+$/.test(bare)) return invalid('not-a-number');
    if (bare.length > MOST_DIGITS) return invalid('too-long');
    if (bare.startsWith('+'))
      return asNumber(bare, false, []) ?? invalid(faultOfLength(validatePhoneNumberLength(bare)));
    if (bare.length === extensionDigits && extensions.has(bare))
      return { kind: 'extension', extension: bare, dialAs: bare, faults: [], notes: [] };
    if (emergencies.has(bare) || (isOutside && emergencies.has(outside))) return invalid('emergency-number');
    return (
      (outside !== '' ? prefixed(outside, []) : null) ??
      (outsideCode === '' ? null : prefixed(bare, ['outside-code-added'])) ??
      national(bare, outsideCode === '' ? [] : ['outside-code-added']) ??
      subscriber(bare) ??
      invalid(faultOf(bare))
    );
  };
  return { interpret };
}

const faultOfLength = (length: ReturnType<typeof validatePhoneNumberLength>): DialFault =>
  length === 'TOO_SHORT' ? 'too-short' : length === 'TOO_LONG' ? 'too-long' : 'not-a-number';

function asSip(text: string): Interpreted {
  const read = SIP.exec(text);
  const port = Number(read?.[4]?.slice(1) ?? 1);
  if (!read || port < 1 || port > 65_535) return invalid('not-a-number');
  const uri = read[1] ? text : `sip:${text}`;
  return { kind: 'sip', uri, dialAs: uri, faults: [], notes: [] };
}

/**
 * What somebody typed, in any usual form: an extension, a number, a SIP address or one of the organisation's codes.
 * @returns what it is and what will be dialled, or the fault
 */
export const interpret = (text: string, dialling: Dialling, extensions: ReadonlySet<string>): Interpreted =>
  dialReader(dialling, extensions).interpret(text);
