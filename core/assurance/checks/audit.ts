import type { Estate, Group, Menu, Person } from '../../estate';
import { changedPeople, followersOf, type Start } from '../../changes/slate';
import { CHECKS } from './all';
import { checkContext } from './context';
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

/** Made once: it is asked for each pair of thousands. */
const byName = new Intl.Collator();

/** The heaviest first; those of one weight by check, then by name; the same findings always in the same order. */
export const sortFindings = (findings: readonly Finding[]): Finding[] =>
  [...findings].sort(
    (a, b) =>
      WEIGHTS.indexOf(a.weight) - WEIGHTS.indexOf(b.weight) ||
      order.get(a.check)! - order.get(b.check)! ||
      byName.compare(a.subject.name, b.subject.name) ||
      (a.key < b.key ? -1 : a.key > b.key ? 1 : 0),
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

/** Findings by their keys: what a check comes upon twice, at two places alike, is one. */
function byKey(findings: readonly Finding[]): Map<string, Finding> {
  const all = new Map<string, Finding>();
  for (const each of findings) if (!all.has(each.key)) all.set(each.key, each);
  return all;
}
const onceEach = (findings: readonly Finding[]): Finding[] => [...byKey(findings).values()];

/** Every finding of an estate. */
export const audit = (context: CheckContext): Finding[] =>
  sortFindings(
    onceEach([
      ...context.estate.people.flatMap((person) => auditPerson(person, context)),
      ...context.estate.groups.flatMap((group) => auditGroup(group, context)),
      ...context.estate.menus.flatMap((menu) => auditMenu(menu, context)),
      ...auditOrganisation(context),
    ]),
  );

/** What became other of the findings: those that are gone, by their keys, and those that are new or read otherwise. */
export interface FindingsChange {
  readonly gone: readonly string[];
  readonly fresh: readonly Finding[];
}

/** Goes through an estate once, and after changes of people only through what they can touch. */
export interface Auditor {
  readonly findings: readonly Finding[];
  /** @returns null where more than people was changed: all is gone through anew then, by another auditor */
  readonly change: (estate: Estate) => FindingsChange | null;
}

/** @param nowMs from when on the moments of a year are looked at, ms since 1970 */
export function auditorOf(first: Estate, nowMs: number): Auditor {
  let context = checkContext(first, nowMs);
  let known = byKey(audit(context));
  const followers = followersOf(first);
  const ofWhole = new Set(byKind.organisation.map(({ id }) => id));
  return {
    get findings() {
      return sortFindings([...known.values()]);
    },
    change: (estate) => {
      const changed = changedPeople(context.estate, estate);
      if (!changed) return null;
      context = checkContext(estate, nowMs, [], { before: context, changed });
      followers.change(changed);
      const affected = followers.affected(changed);
      const touched = new Set(affected.map(({ kind, id }) => `${kind}/${id}`));
      const isOld = ({ check, subject }: Finding) =>
        ofWhole.has(check) || touched.has(`${subject.kind}/${subject.id}`);
      const now = byKey([...auditStarts(affected, context), ...auditOrganisation(context)]);
      const gone = [...known.values()].filter((each) => isOld(each) && !now.has(each.key));
      const fresh = [...now.values()].filter((each) => !isSameFinding(known.get(each.key), each));
      known = new Map(known);
      for (const { key } of gone) known.delete(key);
      for (const each of fresh) known.set(each.key, each);
      return { gone: gone.map(({ key }) => key), fresh };
    },
  };
}
const isSameFinding = (a: Finding | undefined, b: Finding): boolean =>
  a !== undefined && (a === b || JSON.stringify(a) === JSON.stringify(b));
