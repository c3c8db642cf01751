import type { Dialling } from '../../estate';
import { readNumber } from './numbers';

/** The most callers that a list of a rule is read with. */
const MOST = 500;

/**
 * Reads callers for a rule's list, typed in any form with commas, semicolons or lines between them: whole numbers,
 * beginnings such as `+1604`, extensions and their beginnings.
 * @returns the numbers as a rule holds them, and what was none of these
 */
export function readListed(
  text: string,
  dialling: Dialling,
): { readonly numbers: readonly string[]; readonly wrong: readonly string[] } {
  const numbers = new Set<string>();
  const wrong: string[] = [];
  for (const typed of text.split(/[,;\n]+/).map((each) => each.trim())) {
    if (typed === '' || numbers.size >= MOST) continue;
    const bare = typed.replace(/[\s().\-/]/g, '');
    if (/^\+[1-9]\d{0,14}$/.test(bare)) numbers.add(bare);
    else if (new RegExp(`^\\d{1,${dialling.extensionDigits}}$`).test(bare)) numbers.add(bare);
    else {
      const read = readNumber(typed, dialling);
      if (read.ok) numbers.add(read.e164);
      else wrong.push(typed);
    }
  }
  return { numbers: [...numbers], wrong };
}
