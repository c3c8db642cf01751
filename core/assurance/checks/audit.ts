import type { Group, Menu, Person } from '../../estate';
import type { Start } from '../../changes/slate';
import { CHECKS } from './all';
import {
  WEIGHTS,
  type Check,
  type CheckContext,
  type Finding,
  type CheckResult,
  type Subject,
} from './types';

const byKind = {
  person: CHECKS.filter((check) => check.of === 'person'),
  group: CHECKS.filter((check) => check.of === 'group'),
  menu: CHECKS.filter((check) => check.of === 'menu'),
  organisation: CHECKS.filter((check) => check.of === 'organisation'),
};

function finding(check: Check, subject: Subject, { detail = '', weight, ...found }: CheckResult): Finding {
  return {
    ...found,
    key: [check.id, subject.kind, subject.id, detail].filter(Boolean).join('/'),
    check: check.id,
    subject,
    weight: weight ?? check.weight,
  };
}

const order = new Map(CHECKS.map(({ id }, i) => [id, i]));

/** The heaviest first; those of one weight by check, then by name. */
export const sortFindings = (findings: readonly Finding[]): Finding[] =>
  [...findings].sort(
    (a, b) =>
      WEIGHTS.indexOf(a.weight) - WEIGHTS.indexOf(b.weight) ||
      order.get(a.check)! - order.get(b.check)! ||
      a.subject.name.localeCompare(b.subject.name),
  );

const subjectOf = (
  kind: Start['kind'],
  { id, name }: { readonly id: string; readonly name: string },
): Subject => ({
  kind,
  id,
  name,
});

export function auditPerson(person: Person, context: CheckContext): Finding[] {
  const subject = subjectOf('person', person);
  return byKind.person.flatMap((check) =>
    check.run(person, context).map((found) => finding(check, subject, found)),
  );
}
export function auditGroup(group: Group, context: CheckContext): Finding[] {
  const subject = subjectOf('group', group);
  return byKind.group.flatMap((check) =>
    check.run(group, context).map((found) => finding(check, subject, found)),
  );
}
export function auditMenu(menu: Menu, context: CheckContext): Finding[] {
  const subject = subjectOf('menu', menu);
  return byKind.menu.flatMap((check) =>
    check.run(menu, context).map((found) => finding(check, subject, found)),
  );
}
export const auditOrganisation = (context: CheckContext): Finding[] =>
  byKind.organisation.flatMap((check) =>
    check.run(context).map(({ subject, ...found }) => finding(check, subject, found)),
  );

/** The findings of one check alone, for some people. */
export function auditBy(id: string, people: readonly Person[], context: CheckContext): Finding[] {
  const check = byKind.person.find((each) => each.id === id);
  return people.flatMap((person) =>
    check
      ? check.run(person, context).map((found) => finding(check, subjectOf('person', person), found))
      : [],
  );
}

/** The findings of some people, groups and menus; those who are gone have none. */
export function auditStarts(starts: readonly Start[], context: CheckContext): Finding[] {
  const { finder } = context;
  return starts.flatMap(({ kind, id }) => {
    const [person, group, menu] = [
      kind === 'person' ? finder.person(id) : undefined,
      kind === 'group' ? finder.group(id) : undefined,
      kind === 'menu' ? finder.menu(id) : undefined,
    ];
    return person
      ? auditPerson(person, context)
      : group
        ? auditGroup(group, context)
        : menu
          ? auditMenu(menu, context)
          : [];
  });
}

/** Every finding of an estate. */
export const audit = (context: CheckContext): Finding[] =>
  sortFindings([
    ...context.estate.people.flatMap((person) => auditPerson(person, context)),
    ...context.estate.groups.flatMap((group) => auditGroup(group, context)),
    ...context.estate.menus.flatMap((menu) => auditMenu(menu, context)),
    ...auditOrganisation(context),
  ]);

/** The findings after a change: those of what it can affect anew, and the others as they were. */
export function auditAgain(
  before: readonly Finding[],
  affected: readonly Start[],
  context: CheckContext,
): Finding[] {
  const touched = new Set(affected.map(({ kind, id }) => `${kind}/${id}`));
  const ofWhole = new Set(byKind.organisation.map(({ id }) => id));
  const kept = before.filter(
    ({ check, subject }) => !ofWhole.has(check) && !touched.has(`${subject.kind}/${subject.id}`),
  );
  return sortFindings([...kept, ...auditStarts(affected, context), ...auditOrganisation(context)]);
}
