import { planWithout, withoutEndpoint, withoutPhone, isSame } from '../../editing';
import {
  endingsOf,
  lastOf,
  mapEnding,
  mapMenu,
  mapPlan,
  type Estate,
  type Person,
  type SimpleEnding,
} from '../../estate';
import type { EntryKind, Identified, SlateEntry } from '../slate';

/** What a phone leaves behind, in words, and the changes that take it out everywhere. */
export interface Removal {
  readonly says: readonly string[];
  /** The owner without the phone first, then all else that it is taken out of. */
  readonly entries: readonly SlateEntry[];
}

/** What of a person's plan and forwards is about a phone, in words. */
function saysOf(person: Person, gone: string, who: string): string[] {
  const { rules, otherwise } = person.plan;
  const treatments = [
    ...rules.map((rule) => ({ treatment: rule, name: `the rule “${rule.name}”` })),
    { treatment: otherwise, name: 'the default rule' },
  ];
  const says = treatments.flatMap(({ treatment, name }) => {
    const stages = treatment.stages.flatMap((stage) => ('ring' in stage ? [stage.ring] : []));
    const rung = stages.filter((ring) => ring.some(({ endpoint }) => endpoint === gone));
    const alone = rung.filter((ring) => ring.every(({ endpoint }) => endpoint === gone)).length;
    const hangs = stages.some((ring) =>
      ring.some(
        ({ endpoint, whileRegistered, unlessRegistered }) =>
          endpoint !== gone && (whileRegistered === gone || unlessRegistered === gone),
      ),
    );
    return [
      ...(rung.length > 0
        ? [
            `${who}${name} rings it: taken out${alone > 0 ? `, with ${alone === 1 ? 'a step' : `${alone} steps`} that rang nothing else` : ''}`,
          ]
        : []),
      ...(hangs
        ? [`${who}${name} rings another phone by whether this one is registered: it rings always`]
        : []),
    ];
  });
  const endings = endingsOf(person)
    .map(lastOf)
    .some((ending) => ending.kind === 'endpoint' && ending.endpoint === gone);
  return [...says, ...(endings ? [`${who}calls that ended at it go to voicemail`] : [])];
}

/**
 * A phone is removed: what it leaves behind, and the changes that take it out of its owner's plan, of colleagues'
 * plans, groups, menus and templates, and free the desk phone that it was.
 * @returns null where nobody has such a phone
 */
export function removePhone(estate: Estate, gone: string): Removal | null {
  const owner = estate.people.find(({ endpoints }) => endpoints.some(({ id }) => id === gone));
  if (!owner) return null;
  const says = saysOf(owner, gone, '');
  const entries: SlateEntry[] = [];
  const put = <T extends Identified>(kind: EntryKind, base: T, after: T, say: string | null) => {
    if (isSame(base, after)) return;
    entries.push({ kind, id: base.id, name: base.name, base, after });
    if (say !== null) says.push(say);
  };
  put('person', owner, withoutPhone(owner, gone), null);
  for (const person of estate.people) {
    if (person.id === owner.id) continue;
    const after = planWithout(person, gone);
    if (isSame(person, after)) continue;
    put('person', person, after, null);
    says.push(...saysOf(person, gone, `${person.name}: `));
  }
  const ended: SimpleEnding = { kind: 'mailbox', person: owner.id };
  const map = withoutEndpoint(gone, ended);
  const toVoicemail = `voicemail for ${owner.name}`;
  for (const group of estate.groups)
    put(
      'group',
      group,
      {
        ...group,
        members: group.members.filter((member) => !('endpoint' in member) || member.endpoint !== gone),
        ending: mapEnding(group.ending, map),
      },
      `The group ${group.name} has it: taken out; calls that ended at it go to ${toVoicemail}`,
    );
  for (const menu of estate.menus)
    put('menu', menu, mapMenu(menu, map), `The menu ${menu.name} leads to it: calls go to ${toVoicemail}`);
  for (const template of estate.templates ?? [])
    put(
      'template',
      template,
      { ...template, plan: mapPlan(template.plan, map) },
      `The template ${template.name} rings it: taken out`,
    );
  for (const device of estate.devices ?? []) {
    const { endpoint, ...thing } = device;
    if (endpoint === gone)
      put('device', device, thing, `${device.name} is this phone: it is free for somebody else`);
  }
  return { says, entries };
}
