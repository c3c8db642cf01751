/**
 * Digit maps as in RFC 3435, section 2.1.5: `x` for a digit, `[2-9]` for one of several, `.` for any number of
 * repeats (none too) of the position before it, `|` between alternatives in brackets. Matched against the whole of a
 * dialled string; a position may also be the `+` that begins a number. The timer `T` has no meaning for a string that
 * is complete, and is refused.
 */
export const SYMBOLS = '0123456789*#ABCD+';
const DIGITS = 10;
const MOST_CHARACTERS = 4000;
const MOST_POSITIONS = 1000;

/** One place in a string: which symbols may stand there, as bits in the order of `SYMBOLS`. */
export interface MapPosition {
  readonly symbols: number;
  /** Any number of them, none too. */
  readonly repeats: boolean;
}
export interface DigitMap {
  readonly text: string;
  readonly alternatives: readonly (readonly MapPosition[])[];
}

/** Something wrong in a map, at a character counted from 1. */
export interface MapFault {
  readonly at: number;
  readonly message: string;
}
export type ReadDigitMap =
  | { readonly ok: true; readonly map: DigitMap }
  | { readonly ok: false; readonly faults: readonly MapFault[] };

const ANY_DIGIT = (1 << DIGITS) - 1;
const bitOf = (symbol: string): number => {
  const at = SYMBOLS.indexOf(symbol);
  return at < 0 ? 0 : 1 << at;
};

/** Reads a digit map. @returns the map, or every fault with its place */
export function readDigitMap(text: string): ReadDigitMap {
  const faults: MapFault[] = [];
  const fault = (at: number, message: string) => void faults.push({ at: at + 1, message });
  if (text.length > MOST_CHARACTERS)
    return {
      ok: false,
      faults: [{ at: MOST_CHARACTERS + 1, message: `is longer than ${MOST_CHARACTERS} characters` }],
    };
  const alternatives: MapPosition[][] = [[]];
  let positions = 0;
  let begins = 0;
  const hasBrackets = text.startsWith('(');
  const end = hasBrackets && text.endsWith(')') ? text.length - 1 : text.length;
  if (hasBrackets && end === text.length) fault(text.length, 'the bracket ( is not closed');
  const add = (symbols: number, at: number) => {
    positions += 1;
    if (positions === MOST_POSITIONS + 1) fault(at, `has more than ${MOST_POSITIONS} positions`);
    else alternatives.at(-1)!.push({ symbols, repeats: false });
  };
  const close = (at: number) => {
    if (alternatives.at(-1)!.length === 0 && !faults.some((each) => each.at > begins))
      fault(at, 'an alternative is empty');
    begins = at + 1;
  };
  for (let at = hasBrackets ? 1 : 0; at < end; at += 1) {
    const character = text[at]!;
    if (character === '|') {
      if (!hasBrackets) fault(at, 'alternatives stand in brackets: (a|b)');
      close(at);
      alternatives.push([]);
    } else if (character === '.') {
      const current = alternatives.at(-1)!;
      const last = current.at(-1);
      if (!last) fault(at, 'a dot needs a position before it');
      else if (last.repeats) fault(at, 'a position is repeated already');
      else current[current.length - 1] = { ...last, repeats: true };
    } else if (character === '[') {
      const until = text.indexOf(']', at);
      if (until < 0 || until >= end) {
        fault(at, 'the bracket [ is not closed');
        break;
      }
      add(range(text.slice(at + 1, until), at + 1, fault), at);
      at = until;
    } else if (character === 'x' || character === 'X') add(ANY_DIGIT, at);
    else if (character === 'T' || character === 't')
      fault(at, 'the timer T has no meaning here: the string is complete when it is matched');
    else if (character === '(' || character === ')') fault(at, 'brackets cannot stand in brackets');
    else if (character === '+' && alternatives.at(-1)!.length > 0)
      fault(at, '+ stands only at the beginning');
    else {
      const bit = bitOf(character.toUpperCase());
      if (bit === 0) fault(at, `${JSON.stringify(character)} is no part of a digit map`);
      else add(bit, at);
    }
  }
  close(end);
  return faults.length > 0
    ? { ok: false, faults: faults.sort((a, b) => a.at - b.at) }
    : { ok: true, map: { text, alternatives } };
}

/** What stands between square brackets: single symbols and spans of digits. */
function range(text: string, from: number, fault: (at: number, message: string) => void): number {
  let symbols = 0;
  if (text === '') fault(from - 1, 'the brackets [] are empty');
  for (let i = 0; i < text.length; i += 1) {
    const character = text[i]!.toUpperCase();
    if (text[i + 1] === '-') {
      const [low, high] = [Number(character), Number(text[i + 2] ?? Number.NaN)];
      if (!/^\d$/.test(character) || !/^\d$/.test(text[i + 2] ?? '')) {
        fault(from + i, 'a span goes from a digit to a digit');
      } else if (low > high) fault(from + i, `the span ${low}-${high} goes backwards`);
      for (let digit = low; digit <= high; digit += 1) symbols |= 1 << digit;
      i += 2;
      continue;
    }
    if (character === 'T')
      fault(from + i, 'the timer T has no meaning here: the string is complete when it is matched');
    else if (character === '+' || bitOf(character) === 0)
      fault(from + i, `${JSON.stringify(text[i])} cannot stand in square brackets`);
    else symbols |= bitOf(character);
  }
  return symbols;
}

/** Whether a map matches the whole of a dialled string. Its time grows with the string and the map, never faster. */
export const matchesMap = ({ alternatives }: DigitMap, dialled: string): boolean =>
  alternatives.some((positions) => matches(positions, dialled));

function matches(positions: readonly MapPosition[], dialled: string): boolean {
  /** Where the next symbol may stand; a repeated position may be passed over. */
  const reach = (set: Set<number>, at: number) => {
    for (let i = at; !set.has(i); i += 1) {
      set.add(i);
      if (!positions[i]?.repeats) return;
    }
  };
  let now = new Set<number>();
  reach(now, 0);
  for (const symbol of dialled) {
    const bit = bitOf(symbol);
    const next = new Set<number>();
    for (const i of now) {
      const position = positions[i];
      if (!position || (position.symbols & bit) === 0) continue;
      reach(next, position.repeats ? i : i + 1);
    }
    if (next.size === 0) return false;
    now = next;
  }
  return now.has(positions.length);
}
