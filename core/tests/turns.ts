import fc from 'fast-check';
import { auditorOf, changedFindings, type Finding } from '../assurance/checks';
import type { Estate, Person } from '../estate';

/** What an auditor says after each of some changes, made of what it said before and of what it says became other. */
export function followed(
  first: Estate,
  later: readonly Estate[],
  nowMs: number,
): readonly (readonly Finding[])[] {
  const auditor = auditorOf(first, nowMs);
  let known: readonly Finding[] = auditor.findings;
  return later.map((estate) => {
    const change = auditor.change(estate);
    if (!change) throw new Error('only people were changed');
    known = changedFindings(known, change);
    if (JSON.stringify(known) !== JSON.stringify(auditor.findings))
      throw new Error('what became other does not add up to what is');
    return known;
  });
}

/** Ways in which a person becomes another, each by something that a check of the whole organisation looks at. */
const TURNS: readonly ((person: Person, other: Person, n: number) => Person)[] = [
  (person, _other, n) => ({ ...person, name: `${person.name} ${n}` }),
  (person, other) => ({ ...person, status: other.status, permission: other.permission }),
  (person) => ({ ...person, status: 'left' }),
  (person, { roster, template }) => ({
    ...person,
    ...(roster ? { roster } : {}),
    ...(template ? { template } : {}),
  }),
  ({ roster: _roster, template: _template, showing: _showing, ...person }) => person,
  // Two with one number; a phone that moves, is known by its number, or loses its place.
  (person, other) => {
    const number = other.endpoints.find((each) => each.number !== undefined)?.number;
    return {
      ...person,
      endpoints: person.endpoints.map((each) =>
        each.number !== undefined && number !== undefined ? { ...each, number } : each,
      ),
    };
  },
  (person, other) => {
    const path = other.endpoints.find((each) => each.path)?.path;
    return {
      ...person,
      endpoints: person.endpoints.map(({ place: _place, path: _path, ...each }) => ({
        ...each,
        label: `${each.label} moved`,
        ...(path ? { path } : {}),
      })),
    };
  },
  (person) => ({
    ...person,
    endpoints: person.endpoints.map((each) =>
      each.number === undefined ? each : { ...each, number: '+19005550123', knownAs: true },
    ),
  }),
  (person, _other, n) => ({
    ...person,
    lines: person.lines.map((line) => ({ ...line, extension: `${line.extension}${n}`, numbers: [] })),
  }),
  (person, other) => ({ ...person, plan: other.plan }),
];

/** Who is changed, by whom, and how. */
export const turns = fc.array(fc.tuple(fc.nat(), fc.nat(), fc.nat({ max: TURNS.length - 1 })), {
  minLength: 2,
  maxLength: 4,
});

/** The estate after each turn, and back to what it was, all at once. */
export function turned(
  estate: Estate,
  all: readonly (readonly [number, number, number])[],
): readonly Estate[] {
  let now = estate;
  const later = all.map(([who, whose, how], n) => {
    const { people } = now;
    const [person, other] = [people[who % people.length]!, people[whose % people.length]!];
    const after = TURNS[how]!(person, other, n);
    now = { ...now, people: people.map((each) => (each === person ? after : each)) };
    return now;
  });
  return [...later, estate];
}
