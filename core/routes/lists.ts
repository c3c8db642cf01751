import { bareNumber } from '../calls/dialling';
import { compareWords } from './automaton';
import type { RouteFinding } from './findings';
import type { NumberList, RouteTable } from './types';

const E164 = /^\+[1-9]\d{1,14}$/;
/** Whether a text is a number as ITU-T E.164 has it, with a leading `+`. */
export const isE164 = (text: string): boolean => E164.test(text);

/** What is wrong with a table's lists: numbers on two of them, and those that are not E.164. */
export function listFindings({ lists }: Pick<RouteTable, 'lists'>): RouteFinding[] {
  const findings: RouteFinding[] = [];
  for (const { id, name, numbers } of lists) {
    const wrong = numbers.filter((number) => !isE164(number));
    const [first] = wrong;
    if (first === undefined) continue;
    const digits = bareNumber(first);
    findings.push({
      kind: 'list-number-not-E.164',
      weight: 'fault',
      list: id,
      example: first,
      count: wrong.length,
      says: `${counted(wrong.length, 'number')} on the list ${name} ${wrong.length === 1 ? 'is' : 'are'} not E.164, such as ${JSON.stringify(first)}: no call is told by ${wrong.length === 1 ? 'it' : 'them'}.`,
      ...(isE164(digits) ? { mend: { kind: 'number', list: id, number: first, becomes: digits } } : {}),
    });
  }
  return [...findings, ...overlaps(lists)];
}

function overlaps(lists: readonly NumberList[]): RouteFinding[] {
  const on = new Map<string, number>();
  const shared = new Map<number, { count: number; first: string }>();
  /** The further lists of a number that is on more than one. */
  const more = new Map<string, number[]>();
  const note = (a: number, b: number, number: string) => {
    const key = a * lists.length + b;
    const known = shared.get(key);
    if (!known) shared.set(key, { count: 1, first: number });
    else {
      known.count += 1;
      if (compareWords(number, known.first) < 0) known.first = number;
    }
  };
  lists.forEach(({ numbers }, list) => {
    for (const number of numbers) {
      const first = on.get(number);
      if (first === undefined) on.set(number, list);
      else if (first !== list) {
        const others = more.get(number) ?? [];
        if (others.includes(list)) continue;
        for (const other of [first, ...others]) note(other, list, number);
        more.set(number, [...others, list]);
      }
    }
  });
  return [...shared]
    .sort(([a], [b]) => a - b)
    .map(([key, { count, first }]): RouteFinding => {
      const [a, b] = [lists[Math.floor(key / lists.length)]!, lists[key % lists.length]!];
      return {
        kind: 'list-overlap',
        weight: 'risk',
        lists: [a.id, b.id],
        example: first,
        count,
        says: `${counted(count, 'number')} ${count === 1 ? 'is' : 'are'} on both ${a.name} and ${b.name}, such as ${first}: the upper route of the two decides.`,
      };
    });
}

export const counted = (count: number, what: string): string => `${count} ${what}${count === 1 ? '' : 's'}`;
