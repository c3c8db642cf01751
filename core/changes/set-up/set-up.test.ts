import { compileEstate } from '../../calls/engine';
import { FIELDS, type Fields, type Person } from '../../estate';
import { personOf, smallEstate } from '../../tests/small';
import { personSetUp } from './set-up';

/** Somebody with every setting that a person can have. */
const ADA: Person = {
  ...personOf('ada', 1, {}),
  template: 'crew',
  mailbox: {
    enabled: true,
    copyTo: ['ben'],
    greeting: { text: 'Ada is away', says: [{ key: '2', leads: 'group', whom: 'quay-crew' }] },
  },
  lines: [
    {
      id: 'l-ada',
      extension: '4101',
      numbers: ['+12505550101', '+12505550141'],
      forwardAll: { kind: 'number', number: '+12505550177' },
      forwardUntil: '2026-12-24T17:00:00-08:00',
      forwardAfter: { kind: 'mailbox' },
    },
  ],
  endpoints: [
    { id: 'ada-desk', label: 'Desk phone', kind: 'desk', setupMs: 150 },
    {
      id: 'ada-mobile',
      label: 'Mobile',
      kind: 'mobile',
      number: '+12505550121',
      afterAnswer: '1w2',
      setupMs: 2500,
      mailboxAfterMs: 22_000,
      offAnswerMs: 900,
      knownAs: true,
      place: { civic: { country: 'CA', A3: 'Port Ansel' }, saidOn: '2026-11-02' },
    },
    {
      id: 'ada-app',
      label: 'App',
      kind: 'mobile-app',
      wakes: true,
      wakeMs: 4000,
      path: { transport: 'tls' },
    },
    { id: 'ada-sip', label: 'Elsewhere', kind: 'sip', uri: 'sip:ada@elsewhere.test' },
  ] as Person['endpoints'],
  callsFrom: [{ status: 'on', endpoint: 'ada-mobile' }],
  roster: [{ site: 'quay', schedule: 'office', share: 0.6 }],
  showing: [{ status: 'on', shows: 'organisation' }],
  language: 'fr',
  plan: {
    rules: [
      {
        id: 'r-1',
        name: 'At sea',
        when: {
          status: ['on'],
          schedule: { id: 'office', inside: true },
          line: ['l-ada'],
          caller: { class: 'listed', numbers: ['+12505550160'] },
          arrival: ['menu'],
        },
        stages: [
          {
            ring: [
              {
                endpoint: 'ada-mobile',
                enabled: true,
                switchedOff: true,
                delayMs: 3000,
                acceptAfterMs: 1500,
                giveUpAfterMs: 19_000,
                confirm: 'key',
                present: 'caller',
                arrivals: ['direct'],
                schedule: { id: 'office', inside: false },
                whileRegistered: 'ada-desk',
                unlessRegistered: 'ada-app',
                onlyQuality: 3.8,
                agreedOn: '2026-10-10',
              },
            ],
            forMs: 21_000,
          },
          {
            offer: {
              greeting: { text: 'Press 3', says: [{ key: '3', leads: 'mailbox', whom: 'ben' }] },
              greetingMs: 6000,
              waitMs: 4000,
              choices: [{ key: '3', then: { kind: 'person', person: 'ben', agreedOn: '2026-10-11' } }],
            },
          },
          {
            code: { digits: '7788', withinMs: 9000, wrong: { kind: 'hang-up', message: 'Not this one' } },
          },
        ],
        ending: {
          kind: 'queue',
          maxMs: 61_000,
          then: { kind: 'endpoint', endpoint: 'ben-desk', present: '+12505550101', agreedOn: '2026-10-12' },
        },
        busy: { kind: 'sip', uri: 'sip:quay@elsewhere.test' },
      },
    ],
    otherwise: {
      stages: [{ ring: [{ endpoint: 'ada-desk' }], forMs: 20_000 }],
      ending: { kind: 'menu', menu: 'front' },
    },
  },
};

const saidOf = (ada: Person): string =>
  JSON.stringify(personSetUp(compileEstate(smallEstate([ada, personOf('ben', 2, {})])), ada));

type Path = readonly (string | number)[];
/** Each single value, with the way to it; ids by which parts of the person know each other are not shown. */
function* leaves(value: unknown, path: Path = []): Generator<Path> {
  if (typeof value !== 'object' || value === null) {
    if (path.at(-1) !== 'id') yield path;
    return;
  }
  for (const [key, each] of Object.entries(value))
    yield* leaves(each, [...path, Array.isArray(value) ? Number(key) : key]);
}
const other = (value: unknown): unknown =>
  typeof value === 'number'
    ? value * 2 + 1
    : typeof value === 'boolean'
      ? !value
      : String(value).startsWith('+')
        ? '+12505550199'
        : (OTHER[String(value)] ?? `${String(value)}9`);
/** Of a few words, another of them. */
const OTHER: Readonly<Record<string, string>> = {
  mobile: 'landline',
  desk: 'hot-desk',
  'mobile-app': 'desktop-app',
  key: 'pin',
  caller: '+12505550101',
  listed: 'external',
  menu: 'group',
  direct: 'forwarded',
};
function changed(value: unknown, [key, ...rest]: Path): unknown {
  if (key === undefined) return other(value);
  if (Array.isArray(value)) return value.map((each, i) => (i === key ? changed(each, rest) : each));
  const of = value as Readonly<Record<string, unknown>>;
  return { ...of, [key]: changed(of[key], rest) };
}

/** The kind of an ending decides what else it holds: it is tried by its words. */
const NOT_ALONE = /(forwardAll|forwardAfter|ending|busy|then|wrong)[./a-z0-9]*\/kind$|endpoints\/3\/kind$/i;

test('whatever is set of somebody is said: another value of any setting reads otherwise', () => {
  const said = saidOf(ADA);
  const silent = [...leaves(ADA)]
    .filter((path) => !NOT_ALONE.test(path.join('/')))
    .filter((path) => path[0] !== 'name' && saidOf(changed(ADA, path) as Person) === said)
    .map((path) => path.join('/'));
  expect(silent).toEqual([]);
});

/** The settings of the table of fields, by their keys from the person down; endings go round in themselves. */
function keysOf(fields: Fields, seen: readonly Fields[] = []): readonly string[] {
  return Object.entries(fields).flatMap(([key, { of }]) => {
    const inner = of?.();
    return inner === undefined || seen.includes(inner) ? [key] : [key, ...keysOf(inner, [...seen, inner])];
  });
}

test('the person of this test has every setting that a person of the reach model can have', () => {
  const has = new Set<string>();
  JSON.stringify(ADA, (key, value: unknown) => (has.add(key), value));
  // The way out of a softphone and civic addresses have lists of their own, which the table of fields says whole.
  const left = new Set([...keysOf(fieldsIn('endpoints', 'path')), ...keysOf(fieldsIn('endpoints', 'place'))]);
  const missing = [...new Set(keysOf(FIELDS.person))].filter((key) => !has.has(key) && !left.has(key));
  expect(missing).toEqual(['group', 'message'].filter((key) => !has.has(key)));
});
const fieldsIn = (...path: readonly string[]): Fields =>
  path.reduce<Fields>((at, key) => at[key]!.of!(), FIELDS.person);

test('nothing is said of what is not there', () => {
  const plainOne = personSetUp(compileEstate(smallEstate([personOf('ada', 1, {})])), personOf('ada', 1, {}));
  expect(plainOne.map(({ title }) => title)).toEqual([
    'Name, lines and permission',
    'Every call',
    'Phones',
    'Voicemail',
  ]);
});
