import { compileEstate, type Call } from '../calls/engine';
import { tryCall } from '../calls/views';
import { workedEstate } from '../tests/worked';
import { readEstate, type Estate, type Person, type Plan, type Schedule } from '../estate';
import { readCpl, type ReadCpl } from './cpl-in';
import { writeCpl } from './cpl-out';

const estate = workedEstate();
const personOf = (id: string) => estate.people.find((person) => person.id === id)!;
const ANN = estate.people.find(
  ({ endpoints, lines }) => endpoints.some(({ number }) => number) && lines.length > 0,
)!;
const script = (body: string, before = '') =>
  `<?xml version="1.0"?>\n<cpl xmlns="urn:ietf:params:xml:ns:cpl">\n${before}<incoming>\n${body}\n</incoming>\n</cpl>`;
const reading = (text: string, person = ANN): Extract<ReadCpl, { ok: true }> => {
  const read = readCpl(text, person, estate);
  if (!read.ok) throw new Error(JSON.stringify(read.faults));
  return read;
};
const own = { kind: 'mailbox' } as const;

const DAY: Schedule = {
  id: 'day',
  name: 'Day',
  timeZone: 'America/Vancouver',
  weekly: [
    { days: ['mon', 'tue', 'wed'], from: '08:00', to: '17:30' },
    { days: ['fri'], from: '22:00', to: '06:00' },
  ],
  closed: ['2026-12-25'],
  open: [{ date: '2026-12-26', from: '09:00', to: '12:00' }],
};

/** A plan of all that a script can say, for the phones that a person has. */
function sayable(person: Person): Plan {
  const phones = person.endpoints.map(({ id }) => ({ endpoint: id }));
  const line = person.lines.slice(0, 1).map(({ id }) => id);
  const ring = (forMs: number, ...targets: (typeof phones)[number][]) => ({ ring: targets, forMs });
  const other = estate.people.find(({ id, lines }) => id !== person.id && lines.length > 0)!;
  const rule = (id: string, when: Plan['rules'][number]['when'], rest: Plan['otherwise']) => ({
    id,
    name: id,
    when,
    ...rest,
  });
  return {
    rules: [
      rule(
        'withheld',
        { caller: { class: 'anonymous' } },
        { stages: [], ending: { kind: 'hang-up', message: 'no number' } },
      ),
      rule(
        'listed',
        { caller: { class: 'listed', numbers: ['+1250', '4110'] } },
        { stages: [ring(8000, phones[0]!)], ending: { kind: 'person', person: other.id } },
      ),
      rule(
        'outside-at-day',
        { schedule: { id: 'day', inside: true }, caller: { class: 'external' } },
        { stages: [ring(10_000, phones[0]!), ring(15_000, ...phones)], ending: own },
      ),
      rule(
        'inside',
        { caller: { class: 'internal' }, line },
        { stages: [ring(5000, phones.at(-1)!)], ending: own },
      ),
      rule(
        'night',
        { schedule: { id: 'day', inside: false } },
        { stages: [], ending: { kind: 'mailbox', person: other.id } },
      ),
    ],
    otherwise: {
      stages: [
        {
          ring: phones.map((target, i) =>
            i === 0 ? target : { ...target, schedule: { id: 'day', inside: true } },
          ),
          forMs: 20_000,
        },
      ],
      ending: own,
    },
  };
}

describe('out and in again', () => {
  const whole: Estate = { ...estate, schedules: [...estate.schedules, DAY] };
  const TIMES = [
    '2026-11-23T09:00',
    '2026-11-23T18:00',
    '2026-11-27T23:00',
    '2026-11-28T05:00',
    '2026-12-25T10:00',
    '2026-12-26T10:00',
    '2026-12-26T13:00',
  ];
  const CALLERS = [null, '+12505550177', '+442079460000', '4110', '4199'];
  test.each(
    estate.people
      .filter(({ lines, endpoints }) => lines.length > 0 && endpoints.length > 0)
      .map(({ id }) => id),
  )('%s: every call ends as it did', (id) => {
    const person = { ...personOf(id), plan: sayable(personOf(id)) };
    const as = (plan: Plan) => {
      const after: Estate = {
        ...whole,
        people: whole.people.map((each) => (each.id === id ? { ...person, plan } : each)),
      };
      expect(readEstate(after)).toMatchObject({ ok: true });
      return compileEstate(after);
    };
    const { xml, notes } = writeCpl(person, whole);
    expect(notes).toEqual([expect.stringContaining('past midnight')]);
    const read = readCpl(xml, person, whole);
    if (!read.ok) throw new Error(JSON.stringify(read.faults));
    expect(read.schedules).toEqual([]);
    const [before, after] = [as(person.plan), as(read.plan)];
    for (const at of TIMES)
      for (const from of CALLERS) {
        const call: Call = { from, to: person.lines[0]!.extension, at: `${at}:00-07:00` };
        const [one, two] = [before, after].map((index) => tryCall(index, call, id)?.trace);
        expect([at, from, two?.outcome]).toEqual([at, from, one?.outcome]);
        expect(two?.legs.map(({ endpoint, end }) => [endpoint, end])).toEqual(
          one?.legs.map(({ endpoint, end }) => [endpoint, end]),
        );
      }
  });
  test('what a script cannot say is listed, each thing once', () => {
    const [first] = ANN.endpoints;
    const target = {
      endpoint: first!.id,
      delayMs: 3000,
      acceptAfterMs: 2000,
      giveUpAfterMs: 9000,
      confirm: 'key' as const,
    };
    const { notes, xml } = writeCpl(
      {
        ...ANN,
        plan: {
          rules: [
            { id: 'a', name: 'Elsewhere', when: { status: ['nowhere'] }, stages: [], ending: own },
            { id: 'b', name: 'By a menu', when: { arrival: ['menu'] }, stages: [], ending: own },
          ],
          otherwise: {
            stages: [
              { ring: [target], forMs: 20_500 },
              { ring: [target], forMs: 20_000 },
              { offer: { greetingMs: 1000, waitMs: 2000, choices: [] } },
              { code: { digits: '1', withinMs: 2000, wrong: own } },
            ],
            ending: { kind: 'queue', maxMs: 5000, then: own },
            busy: own,
          },
        },
      },
      estate,
    );
    expect(new Set(notes).size).toBe(notes.length);
    for (const what of [
      'delay of 3 s',
      'guard',
      'stops ringing before the step',
      'confirming with a key',
      '“Elsewhere”',
      '“By a menu”',
      'queue',
      'busy',
      'Choices',
      'code',
      'rounded',
    ])
      expect(notes.join('\n')).toContain(what);
    expect(xml).toContain('timeout="21"');
  });
});

describe('in', () => {
  const mobile = ANN.endpoints.find(({ number }) => number)!;
  test('addresses are the person’s phones, colleagues, mailboxes, or numbers outside', () => {
    const other = estate.people.find(({ id, lines }) => id !== ANN.id && lines.length > 0)!;
    const at = (url: string) =>
      reading(script(`<location url="${url}"><proxy timeout="5"/></location>`)).plan.otherwise;
    expect(at(`tel:${mobile.number}`).stages).toEqual([{ ring: [{ endpoint: mobile.id }], forMs: 5000 }]);
    expect(at('tel:+14155550123').ending).toEqual({ kind: 'number', number: '+14155550123' });
    const extension = other.lines[0]!.extension;
    expect(at(`sip:${extension}@anything.invalid`).ending).toEqual({ kind: 'person', person: other.id });
    expect(at(`sip:voicemail@x.invalid;target=sip%3A${extension}%40x.invalid`).ending).toEqual({
      kind: 'mailbox',
      person: other.id,
    });
    expect(at('sip:somebody@example.com').ending).toEqual({ kind: 'sip', uri: 'sip:somebody@example.com' });
  });
  test('one after the other, and only the first', () => {
    const two = `<location url="tel:${mobile.number}"><location url="tel:${mobile.number}">`;
    const close = '</location></location>';
    const stages = (ordering: string) =>
      reading(script(`${two}<proxy timeout="7" ordering="${ordering}"/>${close}`)).plan.otherwise.stages;
    expect(stages('sequential')).toHaveLength(2);
    expect(stages('first-only')).toEqual([{ ring: [{ endpoint: mobile.id }], forMs: 7000 }]);
  });
  test('a refusal, and a script that ends after ringing', () => {
    expect(reading(script('<reject status="busy"/>')).plan.otherwise).toEqual({
      stages: [],
      ending: { kind: 'hang-up', message: 'busy' },
    });
    expect(
      reading(script(`<location url="tel:${mobile.number}"><proxy/></location>`)).plan.otherwise,
    ).toEqual({
      stages: [{ ring: [{ endpoint: mobile.id }], forMs: 20_000 }],
      ending: { kind: 'hang-up', message: 'no answer' },
    });
  });
  test('hours that nobody here has are asked for', () => {
    const read = reading(
      script(
        '<time-switch tzid="Europe/London"><time dtstart="20240101T090000" duration="PT8H" freq="weekly" byday="MO,FR"><reject status="busy"/></time><otherwise><reject status="notfound"/></otherwise></time-switch>',
      ),
    );
    expect(read.schedules).toEqual([
      {
        id: 'script-hours-1',
        name: 'Hours of the script 1',
        timeZone: 'Europe/London',
        weekly: [{ days: ['mon', 'fri'], from: '09:00', to: '17:00' }],
      },
    ]);
    expect(read.plan.rules).toMatchObject([{ when: { schedule: { id: 'script-hours-1', inside: true } } }]);
  });
  test.each([
    ['a monthly time', 'dtstart="20240101T090000" duration="PT8H" freq="monthly"', 'recurs monthly'],
    [
      'every second week',
      'dtstart="20240101T090000" duration="PT8H" freq="weekly" interval="2"',
      'every few',
    ],
    [
      'until a date',
      'dtstart="20240101T090000" duration="PT8H" freq="daily" until="20250101"',
      'only for a while',
    ],
    ['no end', 'dtstart="20240101T090000" freq="daily"', 'duration or dtend'],
    ['no date', 'dtstart="20241341T090000" duration="PT8H"', 'dtstart'],
  ])('%s is left out and said with its line', (_what, attributes, text) => {
    const read = reading(
      script(
        `<time-switch>\n<time ${attributes}><reject status="busy"/></time>\n<otherwise><reject status="error"/></otherwise></time-switch>`,
      ),
    );
    expect(read.notes).toEqual([{ line: 5, text: expect.stringContaining(text) }]);
    expect(read.plan).toEqual({
      rules: [],
      otherwise: { stages: [], ending: { kind: 'hang-up', message: 'error' } },
    });
  });
  test('what a plan has no words for is listed by line', () => {
    const { notes, plan } = reading(
      script(
        `<log name="x"><mail url="mailto:a@example.com">\n<priority-switch><priority less="urgent"><reject status="busy"/></priority>\n<otherwise><location url="tel:${mobile.number}" priority="0.5"><proxy recurse="yes"><busy><reject status="busy"/></busy><noanswer><redirect/></noanswer></proxy></location></otherwise></priority-switch></mail></log>`,
      ),
    );
    expect(notes.map(({ line, text }) => [line, text.split(' ')[0]])).toEqual(
      expect.arrayContaining([
        [4, '<log>'],
        [4, '<mail>'],
        [5, '<priority-switch>'],
        [6, 'The'],
        [6, 'Following'],
        [6, 'What'],
      ]),
    );
    expect(plan.otherwise.stages).toHaveLength(1);
  });
  test.each<[string, string, number, string]>([
    [
      'a document type',
      '<?xml version="1.0"?>\n<!DOCTYPE cpl [<!ENTITY a "b">]>\n<cpl/>',
      2,
      'document type',
    ],
    ['what is not closed', '<cpl>\n<incoming>\n</cpl>', 3, 'is not XML'],
    ['another root', '<html/>', 1, 'outermost element'],
    ['another namespace', '<cpl xmlns="urn:other"/>', 1, 'urn:other'],
    ['nothing incoming', '<cpl>\n</cpl>', 1, 'incoming'],
    ['a subaction that is not there', script('<sub ref="x"/>'), 4, '"x"'],
    [
      'one that leads to itself',
      script('<sub ref="x"/>', '<subaction id="x"><sub ref="x"/></subaction>\n'),
      3,
      'itself',
    ],
    ['two of one name', script('', '<subaction id="x"/>\n<subaction id="x"/>\n'), 4, 'already'],
    ['a location without address', script('<location><proxy/></location>'), 4, 'url'],
    [
      'a timeout in words',
      script(`<location url="tel:${mobile.number}"><proxy timeout="soon"/></location>`),
      4,
      'soon',
    ],
    ['very deep nesting', script('<log>'.repeat(500) + '</log>'.repeat(500)), 4, 'deep'],
  ])('%s is a fault with its line', (_what, text, line, message) => {
    expect(readCpl(text, ANN, estate)).toEqual({
      ok: false,
      faults: [{ path: `line ${line}`, message: expect.stringContaining(message) }],
    });
  });
  test('subactions that double at each step are cut off, not gone through', () => {
    const steps = Array.from({ length: 40 }, (_, i) =>
      i === 0
        ? '<subaction id="s0"><reject status="busy"/></subaction>'
        : `<subaction id="s${i}"><time-switch><time dtstart="20240101T090000" duration="PT8H" freq="daily"><sub ref="s${i - 1}"/></time><otherwise><log><sub ref="s${i - 1}"/></log></otherwise></time-switch></subaction>`,
    );
    expect(readCpl(script('<sub ref="s39"/>', steps.join('\n')), ANN, estate)).toMatchObject({
      ok: false,
      faults: [{ message: expect.stringContaining('steps') }],
    });
  });
  test('entities of XML itself are read, text in comments is not', () => {
    const { plan } = reading(script('<!-- <!DOCTYPE x> --><reject status="reject" reason="a &amp; b"/>'));
    expect(plan.otherwise.ending).toEqual({ kind: 'hang-up', message: 'a & b' });
  });
});
