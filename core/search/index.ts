/** Finding people by name, extension or any form of a number. */
export interface Searchable {
  readonly name: string;
  readonly extension: string;
  /** E.164 or further extensions. */
  readonly numbers: readonly string[];
}

/** Lower case, without accents: `Ólafur` is found by `olaf`. */
export const fold = (text: string): string => text.normalize('NFKD').replace(/\p{M}/gu, '').toLowerCase();

const FEWEST_DIGITS = 3;

/** The ways in which typed digits can lie in an E.164 number: as they are, and without what is dialled before. */
function forms(digits: string, prefixes: readonly string[]): string[] {
  const found = [digits];
  for (const prefix of prefixes)
    if (prefix !== '' && digits.startsWith(prefix) && digits.length - prefix.length >= FEWEST_DIGITS)
      found.push(digits.slice(prefix.length));
  return found;
}

const partsOf = new WeakMap<Searchable, readonly string[]>();

/** The folded words of a name, kept for as long as the one who bears it, for a search asks for them at each key. */
function nameParts(someone: Searchable): readonly string[] {
  let parts = partsOf.get(someone);
  if (!parts) {
    parts = fold(someone.name).split(/[\s-]+/);
    partsOf.set(someone, parts);
  }
  return parts;
}

/**
 * Prepares a query for matching many.
 * @param prefixes what is dialled before numbers here, longest first: `9011`, `91`, `9`, `011`, `00`
 * @returns whether somebody matches: every word of a name from the beginning of one of its words, or the digits
 *   anywhere in the extension or a number
 */
export function matcher(query: string, prefixes: readonly string[] = []): (someone: Searchable) => boolean {
  const text = fold(query.trim());
  if (text === '') return () => true;
  const digits = text.replace(/\D/g, '');
  if (digits !== '' && !/[a-z]/.test(text)) {
    if (digits.length < FEWEST_DIGITS) return (someone) => someone.extension.startsWith(digits);
    const wanted = forms(digits, prefixes);
    return ({ extension, numbers }) =>
      extension.startsWith(digits) || numbers.some((number) => wanted.some((form) => number.includes(form)));
  }
  const words = text.split(/\s+/);
  return (someone) => {
    const parts = nameParts(someone);
    return words.every((word) => parts.some((part) => part.startsWith(word)));
  };
}

/** Dialled before numbers in many places; digits are also looked for without them. */
const DIALLED_BEFORE = ['9011', '90', '91', '9', '011', '00', '0', '1'];

/** What the list of people is looked through for; null: all. */
export interface PeopleAsked {
  readonly query: string;
  readonly status: string | null;
  readonly reach: string | null;
}

/**
 * Prepares looking through the list of people.
 * @param isSeen by which numbers somebody may be found; null: by all
 * @returns whether somebody fits
 */
export function peopleMatcher(
  { query, status, reach }: PeopleAsked,
  isSeen: ((number: string) => boolean) | null = null,
): (someone: Searchable & { readonly status: string; readonly reach: string }) => boolean {
  const fits = matcher(query, DIALLED_BEFORE);
  const byNumber = isSeen && /\d/.test(query);
  return (someone) =>
    (status === null || someone.status === status) &&
    (reach === null || someone.reach === reach) &&
    fits(byNumber ? { ...someone, numbers: someone.numbers.filter(isSeen) } : someone);
}
