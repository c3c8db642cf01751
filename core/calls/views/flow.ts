import {
  capital,
  DEFAULT_ACCESS,
  memberId,
  type Ending,
  type Group,
  type Menu,
  type Person,
  type Treatment,
  type When,
  forwardAt,
} from '../../estate';
import {
  callerHolds,
  chooseTreatment,
  scheduleHolds,
  type EstateIndex,
  endingPhrase,
  endpointName,
  ANY_OUTSIDE_CALLER,
  seconds,
} from '../engine';
import { describeTreatment, describeWhen, plain } from './describe';

/** A way on from one place of a flow, with when it is taken. */
export interface FlowBranch {
  readonly when: string;
  /** Whether a call of the moment can take it. */
  readonly isOpen: boolean;
  readonly to: FlowNode;
}

/** One place that a number leads to. */
export interface FlowNode {
  readonly kind: 'person' | 'group' | 'menu' | 'access' | 'end' | 'again';
  /** The person, group, menu or access number; empty for an ending. */
  readonly id: string;
  readonly title: string;
  readonly text: string;
  readonly branches: readonly FlowBranch[];
}

const GROUP_MODES: Record<Group['mode'], string> = {
  simultaneous: 'all together',
  linear: 'one after another, in order',
  circular: 'one after another, beginning after the last',
  'longest-idle': 'one after another, the longest idle first',
  'by-rank': 'one after another, by rank',
};

/** What an access number does, for those who are known and those who are not; null: it is none. */
function accessFlow(index: EstateIndex, number: string, epochMs: number): FlowNode | null {
  const access = index.estate.accessNumbers?.find((each) => each.number === number);
  if (!access) return null;
  const { knows, pin, onlyVerified } = { ...DEFAULT_ACCESS, ...access };
  const isNow = !access.schedule || scheduleHolds(index, access.schedule, epochMs);
  const leaf = (title: string): FlowNode => ({ kind: 'end', id: '', title, text: '', branches: [] });
  const calls = 'the number that is typed is called, as from the desk';
  const known = {
    when: onlyVerified ? 'from a mobile of staff that the carrier has verified' : 'from a mobile of staff',
    isOpen: isNow,
    to: leaf(capital(pin === 'always' ? `after the PIN, ${calls}` : calls)),
  };
  const others = {
    when: knows ? 'from any other number' : 'from any number',
    isOpen: isNow,
    to: leaf(
      capital(pin === 'never' ? 'nobody gets in who is not known' : `after extension and PIN, ${calls}`),
    ),
  };
  const hours = access.schedule && index.schedules.get(access.schedule.id)?.name;
  return {
    kind: 'access',
    id: access.id,
    title: access.name,
    text: '',
    branches: [
      ...(knows ? [known] : []),
      others,
      ...(access.schedule
        ? [
            {
              when: `${access.schedule.inside ? 'outside' : 'inside'} ${hours ?? access.schedule.id}`,
              isOpen: !isNow,
              to: leaf('Closed'),
            },
          ]
        : []),
    ],
  };
}

/**
 * What a number or extension of the organisation does: from it through menus, groups and people to every ending, each
 * branch with when it is taken, and whether that is so for a call from outside at one moment. Each person, group and
 * menu is opened where it is met first.
 * @param epochMs ms since 1970
 * @returns null if nothing of the organisation has this number
 */
export function flowOf(index: EstateIndex, number: string, epochMs: number): FlowNode | null {
  const destination = index.destinations.get(number);
  if (!destination) return accessFlow(index, number, epochMs);
  const met = new Set<unknown>();

  const once = (
    object: Person | Group | Menu,
    kind: 'person' | 'group' | 'menu',
    open: () => FlowNode,
  ): FlowNode => {
    if (met.has(object))
      return { kind: 'again', id: object.id, title: object.name, text: 'shown above', branches: [] };
    met.add(object);
    return { ...open(), kind, id: object.id, title: object.name };
  };
  const leaf = (title: string, text = ''): FlowNode => ({ kind: 'end', id: '', title, text, branches: [] });

  const endingNode = (ending: Ending, owner: Person | null, isOpen: boolean): FlowNode => {
    switch (ending.kind) {
      case 'person': {
        const person = index.people.get(ending.person);
        return person
          ? personNode(person, 'forwarded', undefined, isOpen)
          : leaf('Nobody', 'the person is gone');
      }
      case 'group': {
        const group = index.groups.get(ending.group);
        return group ? groupNode(group, isOpen) : leaf('No group', 'the group is gone');
      }
      case 'menu': {
        const menu = index.menus.get(ending.menu);
        return menu ? menuNode(menu, isOpen) : leaf('No menu', 'the menu is gone');
      }
      case 'queue': {
        const inner = endingNode(ending.then, owner, isOpen);
        const after = `after up to ${seconds(ending.maxMs)} of waiting`;
        return { ...inner, text: inner.text ? `${inner.text}, ${after}` : after };
      }
      case 'mailbox':
      case 'hang-up':
      case 'endpoint':
      case 'number':
      case 'sip':
        return leaf(capital(endingPhrase(index, ending, owner?.id)));
    }
  };
  const treatmentBranches = (
    treatment: Treatment,
    person: Person,
    when: string,
    isOpen: boolean,
  ): FlowBranch[] => {
    const does = plain(describeTreatment(index, treatment, person.id));
    const keys = treatment.stages.flatMap((stage) =>
      'offer' in stage
        ? stage.offer.choices.flatMap(({ key, then }): FlowBranch[] =>
            then === 'next' ? [] : [{ when: `Key ${key}`, isOpen, to: endingNode(then, person, isOpen) }],
          )
        : 'code' in stage
          ? [{ when: 'Wrong code', isOpen, to: endingNode(stage.code.wrong, person, isOpen) }]
          : [],
    );
    const busy = treatment.busy
      ? [{ when: 'Busy', isOpen, to: endingNode(treatment.busy, person, isOpen) }]
      : [];
    const unanswered = { when: 'Nobody answers', isOpen, to: endingNode(treatment.ending, person, isOpen) };
    const inner = [...keys, ...busy, unanswered];
    return [{ when, isOpen, to: { kind: 'end', id: '', title: does, text: '', branches: inner } }];
  };
  const personNode = (
    person: Person,
    arrival: 'direct' | 'menu' | 'forwarded',
    lineId: string | undefined,
    isOpen: boolean,
  ): FlowNode =>
    once(person, 'person', () => {
      const line = person.lines.find(({ id }) => id === lineId) ?? person.lines[0];
      const forward = line ? forwardAt(line, epochMs) : null;
      const chosen = chooseTreatment(person, {
        caller: () => ANY_OUTSIDE_CALLER,
        arrival: () => arrival,
        line,
        inside: (test) => scheduleHolds(index, test, epochMs),
      });
      const branches: FlowBranch[] = [];
      if (forward)
        branches.push({ when: 'Call forwarding is on', isOpen, to: endingNode(forward, person, isOpen) });
      for (const rule of person.plan.rules)
        branches.push(
          ...treatmentBranches(
            rule,
            person,
            describeWhen(index, rule.when, person),
            isOpen && !forward && chosen.name === rule.id,
          ),
        );
      branches.push(
        ...treatmentBranches(
          person.plan.otherwise,
          person,
          person.plan.rules.length ? 'Default rule' : 'Always',
          isOpen && !forward && chosen.rule === null,
        ),
      );
      const status = index.statuses.get(person.status) ?? person.status;
      return {
        kind: 'person',
        id: '',
        title: '',
        text: `${line?.extension ?? ''} ${status}`.trim(),
        branches,
      };
    });
  const groupNode = (group: Group, isOpen: boolean): FlowNode =>
    once(group, 'group', () => {
      const names = group.members.map((member) =>
        'person' in member
          ? (index.people.get(member.person)?.name ?? member.person)
          : endpointName(index, memberId(member)),
      );
      return {
        kind: 'group',
        id: '',
        title: '',
        text: `rings ${names.join(', ') || 'nobody'} ${GROUP_MODES[group.mode]}, ${seconds(group.ringMs)}${group.mode === 'simultaneous' ? '' : ' each'}`,
        branches: [{ when: 'Nobody answers', isOpen, to: endingNode(group.ending, null, isOpen) }],
      };
    });
  const menuNode = (menu: Menu, isOpen: boolean): FlowNode =>
    once(menu, 'menu', () => {
      const holds = (when: Pick<When, 'schedule' | 'caller'>) =>
        (!when.schedule || scheduleHolds(index, when.schedule, epochMs)) &&
        (!when.caller || callerHolds(when.caller, ANY_OUTSIDE_CALLER));
      const now = menu.rules.find((rule) => holds(rule.when));
      const branches = menu.rules.map((rule): FlowBranch => {
        const open = isOpen && rule === now;
        const keys = rule.choices.map(({ key, then }) => ({
          when: `Key ${key}`,
          isOpen: open,
          to: then.kind === 'person' ? byMenu(then.person, open) : endingNode(then, null, open),
        }));
        const none = {
          when: 'No key',
          isOpen: open,
          to:
            rule.otherwise.kind === 'person'
              ? byMenu(rule.otherwise.person, open)
              : endingNode(rule.otherwise, null, open),
        };
        return {
          when: describeWhen(index, rule.when),
          isOpen: open,
          to: {
            kind: 'end',
            id: '',
            title: `A greeting of ${seconds(rule.greetingMs)}, then ${seconds(rule.waitMs)} of silence`,
            text: '',
            branches: [...keys, none],
          },
        };
      });
      return { kind: 'menu', id: '', title: '', text: `extension ${menu.extension}`, branches };
    });
  const byMenu = (id: string, isOpen: boolean): FlowNode => {
    const person = index.people.get(id);
    return person ? personNode(person, 'menu', undefined, isOpen) : leaf('Nobody', 'the person is gone');
  };

  switch (destination.kind) {
    case 'line':
      return personNode(destination.person, 'direct', destination.line.id, true);
    case 'group':
      return groupNode(destination.group, true);
    case 'menu':
      return menuNode(destination.menu, true);
  }
}
