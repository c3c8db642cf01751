import type { E164, Estate, Person } from '../../estate';
import { dialReader, extensionsOf, mayDial, REFUSED_WORDS, type NoWayOut } from '../dialling';

/** A number that somebody wants to call: which, and by which trunk it may be, or why it cannot be. */
export type Wanted =
  | { readonly ok: true; readonly number: E164; readonly trunk: string | null }
  | { readonly ok: false; readonly why: 'emergency' | 'extension' | NoWayOut };

/** Reads what was typed as the dial plan has it; what stands here is a number outside, or none. */
export function numberOutside(
  estate: Estate,
  typed: string,
):
  | { readonly number: E164 }
  | { readonly why: 'extension'; readonly extension: string }
  | { readonly why: 'emergency' | 'bad-number' } {
  const read = dialReader(estate.dialling, new Set(extensionsOf(estate))).interpret(typed);
  if (read.faults.includes('emergency-number')) return { why: 'emergency' };
  if (read.kind === 'extension' && read.extension !== undefined)
    return { why: 'extension', extension: read.extension };
  return read.kind === 'number' && read.e164 !== undefined ? { number: read.e164 } : { why: 'bad-number' };
}

/** Whether somebody may call what was typed, and over which trunk. */
export function wanted(estate: Estate, person: Person, typed: string): Wanted {
  const read = numberOutside(estate, typed);
  if ('why' in read) return { ok: false, why: read.why };
  const may = mayDial(person, read.number, estate);
  return may.ok
    ? { ok: true, number: read.number, trunk: may.trunk ?? null }
    : { ok: false, why: may.reason ?? 'bad-number' };
}

/** Why it cannot be called, in a sentence to whoever is on the phone. */
export const WANTED_WORDS: Readonly<Record<Extract<Wanted, { ok: false }>['why'], string>> = {
  ...REFUSED_WORDS,
  emergency: 'Hang up, and dial this on the phone itself: it knows where you are.',
  extension: 'Extensions cannot be called from here: type the whole number.',
};
