import {
  innerOf,
  type SettingRef,
  settingOf,
  type Choice,
  type Greeting,
  type Menu,
  type Person,
  type GreetingKey,
  type SimpleEnding,
} from '../../estate';
import { shortName } from '../../calls/engine';
import { keysInText } from './greeting-text';

/** Something that a greeting says and that does not happen, or that happens and is not said. */
export interface GreetingFault {
  /** Where the greeting is set, as a path by ids. */
  readonly setting: SettingRef;
  readonly key: string;
  readonly text: string;
}

interface Names {
  readonly person: (id: string) => string | undefined;
  readonly group: (id: string) => string | undefined;
  readonly menu: (id: string) => string | undefined;
}

const said = ({ leads, whom }: GreetingKey, names: Names): string => {
  switch (leads) {
    case 'find-me':
      return 'the person is looked for';
    case 'mailbox':
      return `${whom ? `${shortName(names.person(whom) ?? whom)}'s` : 'the'} mailbox`;
    case 'person':
      return whom ? (names.person(whom) ?? whom) : 'somebody else';
    case 'group':
      return whom ? (names.group(whom) ?? whom) : 'a group';
    case 'menu':
      return whom ? (names.menu(whom) ?? whom) : 'a menu';
    case 'number':
      return 'an outside number';
    case 'hang-up':
      return 'the end of the call';
  }
};

/** What a choice does, in the terms in which a greeting tells of it. */
export function saidOf(choice: Choice<'next' | SimpleEnding>): GreetingKey {
  const { key, then } = choice;
  if (then === 'next') return { key, leads: 'find-me' };
  switch (then.kind) {
    case 'mailbox':
      return { key, leads: 'mailbox', ...(then.person ? { whom: then.person } : {}) };
    case 'person':
      return { key, leads: 'person', whom: then.person };
    case 'group':
      return { key, leads: 'group', whom: then.group };
    case 'menu':
      return { key, leads: 'menu', whom: then.menu };
    case 'endpoint':
    case 'number':
    case 'sip':
      return { key, leads: 'number' };
    case 'hang-up':
      return { key, leads: 'hang-up' };
  }
}

function compare(
  greeting: Greeting | undefined,
  choices: readonly Choice<'next' | SimpleEnding>[],
  setting: SettingRef,
  names: Names,
  ownMailbox?: string,
): GreetingFault[] {
  if (!greeting) return [];
  const happens = new Map(choices.map((choice) => [choice.key, saidOf(choice)]));
  const own = (whom: string | undefined) => whom ?? ownMailbox;
  const wrong = greeting.says.flatMap((each): GreetingFault[] => {
    const really = happens.get(each.key);
    const text = !really
      ? `The greeting offers key ${each.key} for ${said(each, names)}, and the key does nothing.`
      : really.leads !== each.leads || (each.whom !== undefined && own(each.whom) !== own(really.whom))
        ? `The greeting offers key ${each.key} for ${said(each, names)}; it leads to ${said(really, names)}.`
        : null;
    return text ? [{ setting, key: each.key, text }] : [];
  });
  const marked = new Set(greeting.says.map((each) => each.key));
  // What its words say counts too, though only which keys they name.
  const worded = keysInText(greeting.text ?? '');
  const empty = worded
    .filter((key) => !marked.has(key) && !happens.has(key))
    .map((key) => ({
      setting,
      key,
      text: `The words of the greeting name key ${key}, and the key does nothing.`,
    }));
  const told = new Set([...marked, ...worded]);
  const untold = [...happens.values()]
    .filter((really) => !told.has(really.key))
    .map((really) => ({
      setting,
      key: really.key,
      text: `Key ${really.key} leads to ${said(really, names)}, and the greeting does not say so.`,
    }));
  return [...wrong, ...empty, ...untold];
}

/**
 * Compares the greetings of a person's plan and mailbox with what happens: each key that is said must do what is
 * said, and each key that does something must be said. After the greeting of a mailbox no key does anything.
 */
export function personGreetingFaults(person: Person, names: Names): GreetingFault[] {
  const plan = settingOf('people', person.id, 'plan');
  const treatments = [
    ...person.plan.rules.map((rule) => ({ ...rule, setting: innerOf(plan, ['rules', rule.id]) })),
    { ...person.plan.otherwise, setting: innerOf(plan, 'otherwise') },
  ];
  const offers = treatments.flatMap((treatment) =>
    treatment.stages.flatMap((stage, i) =>
      'offer' in stage
        ? compare(
            stage.offer.greeting,
            stage.offer.choices,
            innerOf(treatment.setting, ['stages', i], 'offer', 'greeting'),
            names,
            person.id,
          )
        : [],
    ),
  );
  const mailbox = compare(
    person.mailbox?.greeting,
    [],
    settingOf('people', person.id, 'mailbox', 'greeting'),
    names,
  );
  return [...offers, ...mailbox];
}

/** The same for a menu. */
export const menuGreetingFaults = (menu: Menu, names: Names): GreetingFault[] =>
  menu.rules.flatMap((rule) =>
    compare(rule.greeting, rule.choices, settingOf('menus', menu.id, ['rules', rule.id], 'greeting'), names),
  );
