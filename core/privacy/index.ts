/**
 * Masking of private numbers. A number is the organisation's own if one of its lines, groups or menus has it; every
 * other E.164 number in what the server sends is private and masked for those who may not see it.
 */

/** Whole, or in groups as numbers are shown. */
const E164_IN_TEXT = /\+[1-9]\d{6,17}|\+[1-9]\d{0,2}(?:[ \u00a0]\d{2,5}){2,5}/g;

/** `+17785550101` is `+1778••••01`: country and area stay, so that one sees what kind of number it is. */
export function maskNumber(e164: string): string {
  const keep = Math.min(5, Math.max(2, e164.length - 7));
  return `${e164.slice(0, keep)}••••${e164.slice(-2)}`;
}

/** Masks every private number in a text. */
export const maskText = (text: string, isOwn: (e164: string) => boolean): string =>
  text.replace(E164_IN_TEXT, (shown) => {
    const number = shown.replace(/[ \u00a0]/g, '');
    return isOwn(number) ? shown : maskNumber(number);
  });

/**
 * Masks every private number in a SIP message without changing its length, so that it stays a message that can be
 * decoded: `+17785550101` is `+1778xxxxx01`.
 */
export const maskSip = (bytes: string, isOwn: (e164: string) => boolean): string =>
  bytes.replace(/(?:\+|%2B)[1-9]\d{6,17}/gi, (found) => {
    const number = found.replace(/^%2B/i, '+');
    if (isOwn(number)) return found;
    const digits = number.slice(1);
    const keep = Math.min(4, Math.max(1, digits.length - 6));
    const hidden = digits.length - keep - 2;
    return `${found.slice(0, found.length - digits.length)}${digits.slice(0, keep)}${'x'.repeat(hidden)}${digits.slice(-2)}`;
  });

/** A JSON value with every private number in its texts, and in the names of its fields, masked. */
export function maskDeep<T>(value: T, isOwn: (e164: string) => boolean): T {
  const mask = (each: unknown): unknown => {
    if (typeof each === 'string') return maskText(each, isOwn);
    if (Array.isArray(each)) return each.map(mask);
    if (typeof each !== 'object' || each === null) return each;
    return Object.fromEntries(
      Object.entries(each).map(([key, inner]) => [maskText(key, isOwn), mask(inner)]),
    );
  };
  return mask(value) as T;
}
