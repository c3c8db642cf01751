const AND = new Intl.ListFormat('en-GB', { type: 'conjunction' });
const OR = new Intl.ListFormat('en-GB', { type: 'disjunction' });

/** Words as a list in a sentence: `a, b and c`. */
export const andList = (words: Iterable<string>): string => AND.format(words);
/** The words with a capital at their beginning, as a sentence has it. */
export const capital = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1);
/** `a, b or c`. */
export const orList = (words: Iterable<string>): string => OR.format(words);
