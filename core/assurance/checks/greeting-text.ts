const WORDS: Readonly<Record<string, string>> = {
  zero: '0',
  one: '1',
  two: '2',
  three: '3',
  four: '4',
  five: '5',
  six: '6',
  seven: '7',
  eight: '8',
  nine: '9',
  star: '*',
  hash: '#',
  pound: '#',
};
const KEY = `(?:${Object.keys(WORDS).join('|')}|[0-9*#])`;
/** `press 2`, `press the key two or three`, `dial star`, `key 4`, `2 for Bookings` after one of these. */
const NAMED = new RegExp(
  `\\b(?:press|push|hit|dial|touch|select|choose|key)\\s+(?:the\\s+)?(?:(?:key|number|digit|button)\\s+)?(${KEY}(?:(?:\\s*,\\s*|\\s+or\\s+|\\s*,\\s*or\\s+)${KEY})*)(?![0-9a-z])`,
  'gi',
);
const EACH = new RegExp(KEY, 'gi');
/** The longest greeting that is read, in characters. */
const MOST = 4000;

/**
 * The keys that the words of a greeting tell callers to press, in digits or in English words; of other languages none
 * is guessed.
 */
export function keysInText(text: string): readonly string[] {
  const keys = new Set<string>();
  for (const [, named = ''] of text.slice(0, MOST).matchAll(NAMED))
    for (const [each] of named.matchAll(EACH)) keys.add(WORDS[each.toLowerCase()] ?? each);
  return [...keys];
}
