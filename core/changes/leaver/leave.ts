import { targetWithout, isSame } from '../../editing';
import {
  isNumberKind,
  mapEnding,
  mapLine,
  mapMenu,
  mapPlan,
  type Endpoint,
  type Estate,
  type NumberList,
  type Person,
  type PlanMap,
  type GreetingKey,
  type SimpleEnding,
} from '../../estate';
import type { Drill } from '../../calls/drills';
import type { SlateEntry, EntryKind, Identified } from '../slate';

/** How somebody leaves. */
export interface Leaving {
  readonly person: string;
  /** Who takes over line, phones and clients; null: nobody does. */
  readonly successor: string | null;
  /** Who gets the calls that led to the leaver, where there is no successor; null: those calls end where they came from. */
  readonly stand: string | null;
  readonly handLine: boolean;
  readonly handPhones: boolean;
  /** The status of those who have left. */
  readonly status: string;
}

/** Something that leads to the leaver, or is theirs, and what would be done with it. */
export interface Loose {
  readonly kind:
    | 'plan'
    | 'phone'
    | 'mailbox'
    | 'group'
    | 'menu'
    | 'copy'
    | 'greeting'
    | 'template'
    | 'list'
    | 'drill'
    | 'line'
    | 'device'
    | 'rules';
  /** Whose it is: a person, group, menu, list or drill. */
  readonly where: { readonly kind: EntryKind | 'drill'; readonly id: string; readonly name: string };
  readonly says: string;
  readonly proposal: string;
}

export interface Leave {
  readonly loose: readonly Loose[];
  /** The changes that do it, for a slate. */
  readonly entries: readonly SlateEntry[];
  /** Drills that stand for the leaver or expect them: they would fail. */
  readonly drills: readonly string[];
}

interface Named extends Identified {
  readonly id: string;
}

/** Phones that belong to the organisation, and can go to a successor; private numbers never do. */
export const canBeHanded = ({ kind }: Endpoint): boolean => !isNumberKind(kind) && kind !== 'sip';

/**
 * Finds everything that leads to a person who leaves, and what would be done with it: to the successor if there is
 * one, else to whoever stands in, else taken out.
 * @param lists the lists of the route table
 * @returns null where there is no such person
 */
export function leave(
  estate: Estate,
  leaving: Leaving,
  drills: readonly Drill[],
  lists: readonly NumberList[] = [],
): Leave | null {
  const leaver = estate.people.find(({ id }) => id === leaving.person);
  const heir = leaving.successor ?? leaving.stand;
  const taker = estate.people.find(({ id }) => id === heir);
  if (!leaver || (heir !== null && !taker)) return null;
  const successor = leaving.successor === null ? undefined : taker;
  const handed = new Set(
    successor && leaving.handPhones ? leaver.endpoints.filter(canBeHanded).map(({ id }) => id) : [],
  );
  const own = new Set(leaver.endpoints.map(({ id }) => id));
  const loose: Loose[] = [];
  const entries: SlateEntry[] = [];
  const toWhom = taker ? `to ${taker.name}` : 'taken out';

  /** How the things of one object are changed, each told once. */
  const mapFor = (where: Loose['where'], fallback: SimpleEnding): PlanMap => ({
    ending: (ending) => {
      const isPlan = ending.kind === 'person' && ending.person === leaver.id;
      const isMailbox = ending.kind === 'mailbox' && ending.person === leaver.id;
      const isPhone = ending.kind === 'endpoint' && own.has(ending.endpoint) && !handed.has(ending.endpoint);
      if (!isPlan && !isMailbox && !isPhone) return ending;
      loose.push({
        kind: isPlan ? 'plan' : isMailbox ? 'mailbox' : 'phone',
        where,
        says: `${where.name} hands calls to ${leaver.name}’s ${isPlan ? 'plan' : isMailbox ? 'mailbox' : 'phone'}`,
        proposal: taker
          ? toWhom
          : where.kind === 'person'
            ? 'goes to their own mailbox'
            : 'the call is ended there',
      });
      if (!taker) return fallback;
      if (isMailbox)
        return taker.id === where.id ? { kind: 'mailbox' } : { kind: 'mailbox', person: taker.id };
      // Somebody's calls to themselves would go round.
      return taker.id === where.id ? fallback : { kind: 'person', person: taker.id };
    },
    target: (target) => {
      const gone = (id: string) => own.has(id) && !handed.has(id);
      if (gone(target.endpoint)) {
        loose.push({
          kind: 'phone',
          where,
          says: `${where.name} rings ${leaver.endpoints.find(({ id }) => id === target.endpoint)?.label ?? target.endpoint} of ${leaver.name}`,
          proposal: 'taken out',
        });
        return null;
      }
      return targetWithout(target, gone);
    },
  });
  const put = <T extends Named>(kind: EntryKind, base: T, after: T | null) => {
    if (after === null || !isSame(base, after))
      entries.push({ kind, id: base.id, name: base.name, base, after });
  };

  const others = new Map<string, Person>();
  for (const person of estate.people) {
    if (person.id === leaver.id) continue;
    const where = { kind: 'person' as const, id: person.id, name: person.name };
    const map = mapFor(where, { kind: 'mailbox' });
    const copies = person.mailbox?.copyTo ?? [];
    if (copies.includes(leaver.id))
      loose.push({
        kind: 'copy',
        where,
        says: `${person.name} sends copies of messages to ${leaver.name}`,
        proposal: toWhom,
      });
    const copyTo = [
      ...new Set(
        copies.flatMap((id) => (id !== leaver.id ? [id] : taker && taker.id !== person.id ? [taker.id] : [])),
      ),
    ];
    others.set(person.id, {
      ...person,
      plan: mapPlan(person.plan, map),
      lines: person.lines.map((line) => mapLine(line, map)),
      ...(person.mailbox && copies.includes(leaver.id) ? { mailbox: { ...person.mailbox, copyTo } } : {}),
    });
  }
  const isHandedLine = successor !== undefined && leaving.handLine && leaver.lines.length > 0;
  const me = { kind: 'person' as const, id: leaver.id, name: leaver.name };
  for (const line of leaver.lines)
    loose.push({
      kind: 'line',
      where: me,
      says: `Line ${line.extension}${line.forwardAll ? ', which is forwarded' : ''}`,
      proposal: isHandedLine
        ? `to ${successor.name}`
        : taker
          ? `calls go on to ${taker.name}`
          : 'calls are ended with a message',
    });
  for (const endpoint of leaver.endpoints)
    loose.push({
      kind: 'device',
      where: me,
      says: endpoint.label,
      proposal: handed.has(endpoint.id) ? `to ${successor!.name}, restarted` : 'taken out',
    });
  if (leaver.plan.rules.length > 0)
    loose.push({
      kind: 'rules',
      where: me,
      says: `${leaver.plan.rules.length} rules of their plan`,
      proposal: 'taken out',
    });
  if (successor) {
    const before = others.get(successor.id)!;
    others.set(successor.id, {
      ...before,
      lines: [
        ...before.lines,
        ...(isHandedLine
          ? leaver.lines.map(({ id, extension, numbers }) => ({ id, extension, numbers }))
          : []),
      ],
      endpoints: [...before.endpoints, ...leaver.endpoints.filter(({ id }) => handed.has(id))],
    });
  }
  const { template: _followed, callsFrom: _callsFrom, ...rest } = leaver;
  put('person', leaver, {
    ...rest,
    status: leaving.status,
    lines: isHandedLine ? [] : leaver.lines.map(({ id, extension, numbers }) => ({ id, extension, numbers })),
    endpoints: [],
    plan: {
      rules: [],
      otherwise: {
        stages: [],
        ending: taker
          ? { kind: 'person', person: taker.id }
          : { kind: 'hang-up', message: 'The person you call is not with us any more.' },
      },
    },
  });
  for (const person of estate.people) {
    const after = others.get(person.id);
    if (after) put('person', person, after);
  }
  for (const group of estate.groups) {
    const where = { kind: 'group' as const, id: group.id, name: group.name };
    const map = mapFor(where, { kind: 'hang-up', message: '' });
    const isIn = (member: (typeof group.members)[number]) =>
      'person' in member
        ? member.person === leaver.id
        : 'endpoint' in member && own.has(member.endpoint) && !handed.has(member.endpoint);
    if (group.members.some(isIn))
      loose.push({
        kind: 'group',
        where,
        says: `${leaver.name} is a member of ${group.name}`,
        proposal: successor ? `to ${successor.name}` : 'taken out',
      });
    const has =
      successor !== undefined &&
      group.members.some((member) => 'person' in member && member.person === successor.id);
    put('group', group, {
      ...group,
      members: group.members.flatMap((member) =>
        !isIn(member) ? [member] : successor && !has && 'person' in member ? [{ person: successor.id }] : [],
      ),
      ending: mapEnding(group.ending, map),
    });
  }
  for (const menu of estate.menus)
    put(
      'menu',
      menu,
      mapMenu(menu, mapFor({ kind: 'menu', id: menu.id, name: menu.name }, { kind: 'hang-up', message: '' })),
    );
  for (const template of estate.templates ?? [])
    put('template', template, {
      ...template,
      plan: mapPlan(
        template.plan,
        mapFor({ kind: 'template', id: template.id, name: template.name }, { kind: 'mailbox' }),
      ),
    });
  const told = (says: readonly GreetingKey[] | undefined) =>
    says?.some(({ whom }) => whom === leaver.id) ?? false;
  const greeting = (kind: 'person' | 'menu', { id, name }: Identified) =>
    loose.push({
      kind: 'greeting',
      where: { kind, id, name },
      says: `A greeting of ${name} names ${leaver.name}`,
      proposal: 'have it recorded anew',
    });
  for (const person of estate.people) {
    const { rules, otherwise } = person.plan;
    const says = [...rules, otherwise].flatMap(({ stages }) =>
      stages.flatMap((stage) => ('offer' in stage ? (stage.offer.greeting?.says ?? []) : [])),
    );
    if (person.id !== leaver.id && told([...says, ...(person.mailbox?.greeting?.says ?? [])]))
      greeting('person', person);
  }
  for (const menu of estate.menus)
    if (menu.rules.some((rule) => told(rule.greeting?.says))) greeting('menu', menu);
  for (const device of estate.devices ?? []) {
    const { endpoint, signedOn, keys, ...thing } = device;
    const isGone = endpoint !== undefined && own.has(endpoint) && !handed.has(endpoint);
    const watches = keys?.some(({ person }) => person === leaver.id) ?? false;
    const isOn = signedOn?.person === leaver.id;
    const where = { kind: 'device' as const, id: device.id, name: device.name };
    const tell = (says: string, proposal: string) => loose.push({ kind: 'device', where, says, proposal });
    if (isGone) tell(`${device.name} is their phone`, 'free for somebody else');
    if (watches)
      tell(
        `A key of ${device.name} watches ${leaver.name}`,
        successor ? `watches ${successor.name}` : 'taken out',
      );
    if (isOn) tell(`${leaver.name} is signed on at ${device.name}`, 'signed off');
    const isTheirs = endpoint !== undefined && successor?.endpoints.some(({ id }) => id === endpoint);
    const after = keys?.flatMap((key) =>
      key.person !== leaver.id
        ? [key]
        : successor && isTheirs !== true
          ? [{ ...key, person: successor.id }]
          : [],
    );
    put('device', device, {
      ...thing,
      ...(endpoint === undefined || isGone ? {} : { endpoint }),
      ...(signedOn && !isOn ? { signedOn } : {}),
      ...(after === undefined ? {} : { keys: isGone ? [] : after }),
    });
  }
  const gone = new Set([
    ...(isHandedLine ? [] : leaver.lines.flatMap(({ numbers = [] }) => numbers)),
    ...leaver.endpoints.flatMap(({ number }) => (number === undefined ? [] : [number])),
  ]);
  const handedOn = new Set(isHandedLine ? leaver.lines.flatMap(({ numbers = [] }) => numbers) : []);
  for (const list of lists) {
    const numbers = list.numbers.filter((number) => !gone.has(number));
    if (list.numbers.some((number) => handedOn.has(number)))
      loose.push({
        kind: 'list',
        where: { kind: 'list', id: list.id, name: list.name },
        says: `A number that goes on with the line stands on the list ${list.name}`,
        proposal: 'stays there: see whether it still should',
      });
    if (numbers.length === list.numbers.length) continue;
    loose.push({
      kind: 'list',
      where: { kind: 'list', id: list.id, name: list.name },
      says: `A number of theirs stands on the list ${list.name}`,
      proposal: 'taken off there',
    });
    put('list', list, { ...list, numbers });
  }
  const about = drills.filter(
    ({ standsFor, expect }) =>
      ('person' in standsFor && standsFor.person === leaver.id) ||
      expect.person === leaver.id ||
      (expect.endpoint !== undefined && own.has(expect.endpoint) && !handed.has(expect.endpoint)),
  );
  for (const drill of about)
    loose.push({
      kind: 'drill',
      where: { kind: 'drill', id: drill.id, name: drill.name },
      says: `The drill “${drill.name}” is about them`,
      proposal: 'remove it',
    });
  return { loose, entries, drills: about.map(({ id }) => id) };
}
