import { keysInText } from './greeting-text';
import { workedEstate } from '../../tests/worked';
import type { Greeting, Menu, Person } from '../../estate';
import { compileEstate } from '../../calls/engine';
import { menuGreetingFaults, personGreetingFaults } from './greeting';

const index = compileEstate(workedEstate());
const names = {
  person: (id: string) => index.people.get(id)?.name,
  group: (id: string) => index.groups.get(id)?.name,
  menu: (id: string) => index.menus.get(id)?.name,
};

/** Somebody with one offer: 1 looks for the person, 0 leads to Bookings. */
function withGreeting(greeting: Greeting | undefined, mailbox?: Greeting): Person {
  const base = index.people.get('ines')!;
  return {
    ...base,
    ...(mailbox ? { mailbox: { greeting: mailbox } } : {}),
    plan: {
      rules: [],
      otherwise: {
        stages: [
          {
            offer: {
              ...(greeting ? { greeting } : {}),
              greetingMs: 5000,
              waitMs: 2000,
              choices: [
                { key: '1', then: 'next' },
                { key: '0', then: { kind: 'group', group: 'bookings' } },
              ],
            },
          },
        ],
        ending: { kind: 'mailbox' },
      },
    },
  };
}
const right: Greeting = {
  says: [
    { key: '1', leads: 'find-me' },
    { key: '0', leads: 'group', whom: 'bookings' },
  ],
};
const texts = (person: Person) => personGreetingFaults(person, names).map((fault) => fault.text);

test('a greeting that says what happens has no fault; none that is not recorded either', () => {
  expect(texts(withGreeting(right))).toEqual([]);
  expect(texts(withGreeting(undefined))).toEqual([]);
});
test.each<[string, Greeting['says'], readonly string[]]>([
  [
    'a key that does nothing',
    [...right.says, { key: '2', leads: 'person', whom: 'ruth' }],
    ['The greeting offers key 2 for Ruth Adeyemi, and the key does nothing.'],
  ],
  [
    'a key that leads elsewhere',
    [right.says[0]!, { key: '0', leads: 'person', whom: 'amara' }],
    ['The greeting offers key 0 for Amara Lindqvist; it leads to Bookings.'],
  ],
  [
    'a key that is not said',
    [right.says[0]!],
    ['Key 0 leads to Bookings, and the greeting does not say so.'],
  ],
])('%s', (_name, says, expected) => {
  expect(texts(withGreeting({ says }))).toEqual(expected);
});
test('a mailbox greeting can offer no key', () => {
  const [fault] = personGreetingFaults(withGreeting(right, { says: [{ key: '0', leads: 'group' }] }), names);
  expect(fault).toMatchObject({ key: '0', setting: 'people[ines].mailbox.greeting' });
});
test('a menu is held to its greeting rule by rule', () => {
  const menu: Menu = {
    ...index.menus.get('main')!,
    rules: index.menus.get('main')!.rules.map((rule) => ({
      ...rule,
      greeting: { says: [{ key: '9', leads: 'person', whom: 'tomasz' }] },
    })),
  };
  expect(menuGreetingFaults(menu, names).map(({ key }) => key)).toEqual(['9', '1', '2']);
});

describe('the words of a greeting', () => {
  test.each([
    ['Press 1 for Bookings, or press two for the yard.', ['1', '2']],
    ['To hear this again, press the star key or hash.', ['*']],
    ['Please press 1, 2 or three now.', ['1', '2', '3']],
    ['For Ruth dial zero. To end the call press the number nine', ['0', '9']],
    ['Press 10 to fail: no key is called so.', []],
    ['We are open from 8 to 5 on pier 3.', []],
    ['Für Buchungen drücken Sie die 2.', []],
    ['', []],
  ])('%j names %j', (text, keys) => {
    expect(keysInText(text)).toEqual(keys);
  });
  test('a key that the words name and that does nothing is a fault; one that does something is told by them', () => {
    const menu: Menu = {
      id: 'm',
      name: 'M',
      extension: '4990',
      permission: 'any',
      rules: [
        {
          id: 'always',
          when: {},
          greetingMs: 5000,
          waitMs: 3000,
          greeting: { text: 'Press 1 for Bookings and 2 for the yard. Press 2 now.', says: [] },
          choices: [{ key: '1', then: { kind: 'group', group: 'bookings' } }],
          otherwise: { kind: 'hang-up', message: '' },
        },
      ],
    };
    const names = { person: () => undefined, group: () => 'Bookings', menu: () => undefined };
    expect(menuGreetingFaults(menu, names)).toEqual([
      {
        setting: 'menus[m].rules[always].greeting',
        key: '2',
        text: 'The words of the greeting name key 2, and the key does nothing.',
      },
    ]);
  });
  test('a very long text is read in bounded time', () => {
    expect(keysInText('press '.repeat(200_000) + '1')).toEqual([]);
  });
});
