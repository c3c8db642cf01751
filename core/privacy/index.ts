/**
 * Masking of private numbers. A number is the organisation's own if one of its lines, groups or menus has it; every
 * other E.164 number in what the server sends is private and masked for those who may not see it.
 */

/**
 * What a person reads as a number: seven digits or more, with or without a `+` or `00` before them, in groups parted
 * by spaces, dots, hyphens, slashes or brackets, as `+1 (778) 555-0199`, `778.555.0199` or `001 778 555 0199`.
 */
const NUMBER_IN_TEXT =
  /(?<![\w.:/-])(?:\+|00)?[ (]{0,2}\d(?:[ \u00a0()./\u2010-\u2015-]{0,3}\d){6,17}(?![\w-]|[.:]\d)/g;
const LEAST_DIGITS = 7;
/** Texts that are no numbers though they are made of digits: dates, times, addresses of the network, versions. */
const NO_NUMBER = [
  /^\d{4}-\d{2}-\d{2}(?:[T ]\d{2}.*)?$/,
  /^\d{1,3}(?:\.\d{1,3}){3}$/,
  /^\d{1,2}\.\d{1,2}\.\d{4}$/,
  /^\d{4}\/\d{2}\/\d{2}$/,
];

/** `+17785550101` is `+1778••••01`: country and area stay, so that one sees what kind of number it is. */
export function maskNumber(e164: string): string {
  const keep = Math.min(5, Math.max(2, e164.length - 7));
  return `${e164.slice(0, keep)}••••${e164.slice(-2)}`;
}

/** As what a number of the organisation may be meant that is written without its country. */
const ownForms = (digits: string): readonly string[] => [
  ...[digits, digits.replace(/^00?/, ''), digits.replace(/^011/, ''), `1${digits}`].map((each) => `+${each}`),
  digits,
];

/** Masks every private number in a text. */
export const maskText = (text: string, isOwn: (e164: string) => boolean): string =>
  text.length < LEAST_DIGITS
    ? text
    : text.replace(NUMBER_IN_TEXT, (shown) => {
        if (NO_NUMBER.some((each) => each.test(shown))) return shown;
        const digits = shown.replace(/\D/g, '');
        if (shown.startsWith('+')) return isOwn(`+${digits}`) ? shown : maskNumber(`+${digits}`);
        // Written without its country, it may be the organisation's own all the same.
        if (ownForms(digits).some(isOwn)) return shown;
        return `${digits.slice(0, Math.max(0, digits.length - LEAST_DIGITS))}••••${digits.slice(-2)}`;
      });

/**
 * Masks every private number in a SIP message without changing its length, so that it stays a message that can be
 * decoded: `+17785550101` is `+1778xxxxx01`.
 */
export const maskSip = (bytes: string, isOwn: (e164: string) => boolean): string =>
  bytes.replace(NUMBER_IN_SIP, (found) => {
    const digits = found.replace(/^(?:\+|%2B)/i, '');
    const isOurs = digits.length === found.length ? ownForms(digits).some(isOwn) : isOwn(`+${digits}`);
    if (isOurs) return found;
    const keep = Math.min(4, Math.max(1, digits.length - 6));
    const hidden = digits.length - keep - 2;
    return `${found.slice(0, found.length - digits.length)}${digits.slice(0, keep)}${'x'.repeat(hidden)}${digits.slice(-2)}`;
  });
/** In E.164, or as it was dialled: then where a URI names whom it is for or from (RFC 3261, 19.1; RFC 3966). */
const NUMBER_IN_SIP = /(?:\+|%2B)[1-9]\d{6,17}|(?<=\b(?:sips?|tel):)\d{7,17}(?=[@;>\s?])/gi;

/** Of a civic address (RFC 5139) the country, province and town. */
export const townOnly = <T>(civic: T): T =>
  typeof civic === 'object' && civic !== null
    ? (Object.fromEntries(
        Object.entries(civic).filter(([name]) => ['country', 'A1', 'A3'].includes(name)),
      ) as T)
    : civic;

/** A JSON value with every private number in its texts, and in the names of its fields, masked. */
export function maskDeep<T>(value: T, isOwn: (e164: string) => boolean): T {
  const mask = (each: unknown): unknown => {
    if (typeof each === 'string') return maskText(each, isOwn);
    if (Array.isArray(each)) return each.map(mask);
    if (typeof each !== 'object' || each === null) return each;
    // Where somebody lives is as private as their number: of a home, and of what people said, the place stays.
    const isHome = 'civic' in each && ('saidOn' in each || ('kind' in each && each.kind === 'home'));
    return Object.fromEntries(
      Object.entries(each).map(([key, inner]) => [
        maskText(key, isOwn),
        isHome && key === 'civic' ? townOnly(inner) : mask(inner),
      ]),
    );
  };
  return mask(value) as T;
}
