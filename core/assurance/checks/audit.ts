import { onceFor, type Device, type Estate, type Group, type Menu, type Person } from '../../estate';
import type { PersonChange } from '../../calls/engine';
import { changedPeople, followersOf, type Start } from '../../changes/slate';
import { CHECKS } from './all';
import { checkContext } from './context';
import { devicesOf } from './devices';
import { alsoNamedBy } from './named';
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
  device: CHECKS.filter((check) => check.of === 'device'),
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

const inOrder = (a: Finding, b: Finding): number =>
  WEIGHTS.indexOf(a.weight) - WEIGHTS.indexOf(b.weight) ||
  order.get(a.check)! - order.get(b.check)! ||
  byName.compare(a.subject.name, b.subject.name) ||
  (a.key < b.key ? -1 : a.key > b.key ? 1 : 0);
/** The heaviest first; those of one weight by check, then by name; the same findings always in the same order. */
export const sortFindings = (findings: readonly Finding[]): Finding[] => [...findings].sort(inOrder);

/** Findings in their order, and others in their places among them. */
export function mergeFindings(sorted: readonly Finding[], others: readonly Finding[]): readonly Finding[] {
  if (others.length === 0) return sorted;
  const merged: Finding[] = [];
  let from = 0;
  for (const other of sortFindings(others)) {
    let [low, high] = [from, sorted.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if (inOrder(sorted[middle]!, other) <= 0) low = middle + 1;
      else high = middle;
    }
    for (; from < low; from += 1) merged.push(sorted[from]!);
    merged.push(other);
  }
  for (; from < sorted.length; from += 1) merged.push(sorted[from]!);
  return merged;
}

/** What findings became by a change of them. @param sorted those of before, in their order */
export function changedFindings(
  sorted: readonly Finding[],
  { gone, fresh }: FindingsChange,
): readonly Finding[] {
  const old = new Set([...gone, ...fresh.map(({ key }) => key)]);
  return mergeFindings(old.size > 0 ? sorted.filter(({ key }) => !old.has(key)) : sorted, fresh);
}

const subjectOf = (
  kind: Start['kind'] | 'device',
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
export function auditDevice(device: Device, context: CheckContext): Finding[] {
  const subject = subjectOf('device', device);
  return byKind.device.flatMap((check) =>
    check.run(device, context).map((found) => finding(check, subject, found)),
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
      ...(context.estate.devices ?? []).flatMap((device) => auditDevice(device, context)),
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

/** The phones that are devices of which a change of people can touch something: theirs, and those they are signed on to. */
function devicesOfPeople(estate: Estate, changed: readonly PersonChange[]): readonly Device[] {
  const ids = new Set(changed.map(({ after }) => after.id));
  return [
    ...new Set([
      ...changed.flatMap(({ before, after }) =>
        [...before.endpoints, ...after.endpoints].flatMap(({ id }) => devicesOf(estate, id)),
      ),
      ...signedOn(estate.devices ?? []).filter(({ signedOn: now }) => now && ids.has(now.person)),
    ]),
  ];
}
const signedOn = onceFor((devices: readonly Device[]) => devices.filter((each) => each.signedOn));

const WHOLE = new Set(byKind.organisation.map(({ id }) => id));
/** What a finding goes with: its subject, or the organisation as a whole. */
const placeOf = ({ check, subject }: Finding): string =>
  WHOLE.has(check) ? 'organisation' : `${subject.kind}/${subject.id}`;

/** @param nowMs from when on the moments of a year are looked at, ms since 1970 */
export function auditorOf(first: Estate, nowMs: number): Auditor {
  let context = checkContext(first, nowMs);
  const known = new Map<string, Map<string, Finding>>();
  const put = (each: Finding) => {
    const place = placeOf(each);
    const there = known.get(place);
    if (there) there.set(each.key, each);
    else known.set(place, new Map([[each.key, each]]));
  };
  audit(context).forEach(put);
  const followers = followersOf(first, alsoNamedBy);
  return {
    get findings() {
      return sortFindings([...known.values()].flatMap((there) => [...there.values()]));
    },
    change: (estate) => {
      const changed = changedPeople(context.estate, estate);
      if (!changed) return null;
      followers.change(changed);
      const affected = followers.affected(changed);
      const touched = affected.flatMap(({ kind, id }) => (kind === 'person' ? id : []));
      context = checkContext(estate, nowMs, [], { before: context, changed, touched });
      const devices = devicesOfPeople(estate, changed);
      const now = byKey([
        ...auditStarts(affected, context),
        ...devices.flatMap((device) => auditDevice(device, context)),
        ...auditOrganisation(context),
      ]);
      const places = [
        ...affected.map(({ kind, id }) => `${kind}/${id}`),
        ...devices.map(({ id }) => `device/${id}`),
        'organisation',
      ];
      const was = new Map(places.flatMap((place) => [...(known.get(place) ?? [])]));
      const gone = [...was.keys()].filter((key) => !now.has(key));
      const fresh = [...now.values()].filter((each) => !isSameFinding(was.get(each.key), each));
      for (const place of places) known.delete(place);
      for (const each of now.values()) put(each);
      return { gone, fresh };
    },
  };
}
const isSameFinding = (a: Finding | undefined, b: Finding): boolean =>
  a !== undefined && (a === b || JSON.stringify(a) === JSON.stringify(b));
