import type { E164, Line, Person, Rule } from '../estate';
import { freeId } from './lists';

/** Changes of what somebody is called by: their name, their lines, and how many calls they may have at once. */
export const setName = (person: Person, name: string): Person => ({ ...person, name });

export const setMaxCalls = (person: Person, maxCalls: number): Person => ({ ...person, maxCalls });

export const setPermission = (person: Person, permission: string): Person => ({ ...person, permission });

/** Changes the extension or the direct numbers of one line. */
export const editLine = (
  person: Person,
  id: string,
  patch: Partial<Pick<Line, 'extension' | 'numbers'>>,
): Person => ({
  ...person,
  lines: person.lines.map((line) => (line.id === id ? { ...line, ...patch } : line)),
});

/** Gives the person one more line, with an id that none of theirs has. */
export function addLine(person: Person, extension: string, numbers: readonly E164[] = []): Person {
  const id = freeId(
    `${person.id}-line`,
    person.lines.map((line) => line.id),
  );
  return { ...person, lines: [...person.lines, { id, extension, numbers }] };
}

const isOnlyFor = ({ when }: Rule, line: string): boolean =>
  when.line !== undefined && when.line.every((each) => each === line);

/** The rules of a plan that are for calls to this line and no other: they go with it. */
export const rulesOfLine = ({ plan }: Person, line: string): readonly Rule[] =>
  plan.rules.filter((rule) => isOnlyFor(rule, line));

/** Takes a line from the person, with the rules that were for it alone; others lose it from their condition. */
export const removeLine = (person: Person, line: string): Person => ({
  ...person,
  lines: person.lines.filter(({ id }) => id !== line),
  plan: {
    ...person.plan,
    rules: person.plan.rules.flatMap((rule) =>
      isOnlyFor(rule, line)
        ? []
        : rule.when.line?.includes(line)
          ? [{ ...rule, when: { ...rule.when, line: rule.when.line.filter((each) => each !== line) } }]
          : [rule],
    ),
  },
});
