import { randomInt } from 'node:crypto';

/** Letters and digits that are not taken for one another, read aloud or typed at a keypad. */
const SIGNS = '23456789ABCDEFGHJKMNPQRSTUVWXYZ';
const LENGTH = 10;

/** A one-time code of 49 bits, in two groups. */
export function newCode(): string {
  const signs = Array.from({ length: LENGTH }, () => SIGNS[randomInt(SIGNS.length)]).join('');
  return `${signs.slice(0, LENGTH / 2)}-${signs.slice(LENGTH / 2)}`;
}

/** A code as it is compared: without what people put between. */
export const readCode = (text: string): string => text.toUpperCase().replace(/[^0-9A-Z]/g, '');
