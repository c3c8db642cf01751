import { readNumber, showNumber } from '../../core/calls/dialling';
import type { Dialling } from '../../core/estate';

/** A number as it is being typed, in any form: how it reads, or why it does not; nothing yet is neither. */
export function typedNumber(
  text: string,
  dialling: Dialling,
): { readonly e164: string | null; readonly shown: string | null; readonly error: string | null } {
  if (text.trim() === '') return { e164: null, shown: null, error: null };
  const read = readNumber(text, dialling);
  return read.ok
    ? { e164: read.e164, shown: showNumber(read.e164), error: null }
    : { e164: null, shown: null, error: read.reason };
}
