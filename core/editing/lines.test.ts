import { workedEstate } from '../tests/worked';
import { readEstate, type Person } from '../estate';
import { differences } from './differences';
import { addLine, editLine, removeLine, rulesOfLine, setMaxCalls, setName, setPermission } from './lines';
import { addPhone, movePhone, withoutPhone } from './phones';
import { switchEndpoint } from './edit';

const estate = workedEstate();
const ines = estate.people.find(({ id }) => id === 'ines')!;
const isValid = (person: Person) =>
  readEstate({ ...estate, people: estate.people.map((each) => (each.id === person.id ? person : each)) }).ok;
const changed = (before: Person, after: Person) => differences(before, after).map(({ path }) => path);

describe('what somebody is called by', () => {
  test('name, permission and calls at once change what they say and nothing else', () => {
    expect(changed(ines, setName(ines, 'Ines Okafor-Lund'))).toEqual(['name']);
    expect(changed(ines, setMaxCalls(ines, 4))).toEqual(['maxCalls']);
    const other = estate.permissions.find(({ id }) => id !== ines.permission)!;
    expect(changed(ines, setPermission(ines, other.id))).toEqual(['permission']);
  });
  test('a second and a third line have ids of their own; their extensions and numbers can be changed', () => {
    const more = addLine(addLine(ines, '4170'), '4171', ['+12505550171']);
    expect(new Set(more.lines.map(({ id }) => id)).size).toBe(3);
    expect(more.lines.at(-1)).toMatchObject({ extension: '4171', numbers: ['+12505550171'] });
    expect(isValid(more)).toBe(true);
    const edited = editLine(more, more.lines[1]!.id, { extension: '4172', numbers: ['+12505550172'] });
    expect(edited.lines.map(({ extension }) => extension)).toEqual(['4101', '4172', '4171']);
  });
  test('with a line go the rules that were for it alone; others lose it from their condition', () => {
    const two = addLine(ines, '4170');
    const [first, second] = two.lines.map(({ id }) => id) as [string, string];
    const rule = two.plan.rules[0]!;
    const person: Person = {
      ...two,
      plan: {
        ...two.plan,
        rules: [
          { ...rule, id: 'only', when: { line: [second] } },
          { ...rule, id: 'both', when: { line: [first, second] } },
          { ...rule, id: 'any', when: {} },
        ],
      },
    };
    expect(rulesOfLine(person, second).map(({ id }) => id)).toEqual(['only']);
    const after = removeLine(person, second);
    expect(after.plan.rules.map(({ id, when }) => [id, when])).toEqual([
      ['both', { line: [first] }],
      ['any', {}],
    ]);
    expect(isValid(after)).toBe(true);
  });
});

describe('phones', () => {
  test('one of each kind is added, rings where it is said, and what is added last can be moved first', () => {
    let person = addPhone(ines, { kind: 'landline', label: 'Home', number: '+12505550188' }, 'otherwise');
    person = addPhone(person, { kind: 'sip', label: 'Radio room', uri: 'sip:radio@radio.example' }, null);
    person = addPhone(person, { kind: 'desk', label: 'Desk 2' }, 'r-office');
    person = addPhone(person, { kind: 'desk', label: 'Desk 3' }, 'r-office');
    expect(isValid(person)).toBe(true);
    expect(new Set(person.endpoints.map(({ id }) => id)).size).toBe(person.endpoints.length);
    const home = person.endpoints.find(({ label }) => label === 'Home')!;
    const rung = person.plan.otherwise.stages.flatMap((stage) => ('ring' in stage ? stage.ring : []));
    expect(rung.find(({ endpoint }) => endpoint === home.id)).toMatchObject({
      acceptAfterMs: 2300,
      giveUpAfterMs: 22_000,
    });
    const radio = person.endpoints.find(({ label }) => label === 'Radio room')!;
    expect(JSON.stringify(person.plan)).not.toContain(radio.id);
    const moved = movePhone(person, radio.id, -99);
    expect(moved.endpoints[0]).toEqual(radio);
    expect(movePhone(moved, radio.id, -1)).toEqual(moved);
    expect(movePhone(moved, radio.id, 99).endpoints.at(-1)).toEqual(radio);
  });
  test('without a phone nothing of its owner uses it: plan, conditions, forwards, calls out', () => {
    const gone = 'ines-desk';
    const person: Person = {
      ...ines,
      callsFrom: [{ status: estate.statuses[0]!.id, endpoint: gone }],
      lines: ines.lines.map((line) => ({ ...line, forwardAll: { kind: 'endpoint', endpoint: gone } })),
      plan: {
        ...ines.plan,
        otherwise: {
          stages: [
            { ring: [{ endpoint: gone }], forMs: 5000 },
            { ring: [{ endpoint: 'ines-mobile', unlessRegistered: gone }, { endpoint: gone }], forMs: 9000 },
          ],
          ending: { kind: 'endpoint', endpoint: gone },
        },
      },
    };
    const after = withoutPhone(person, gone);
    expect(after.plan.otherwise).toEqual({
      stages: [{ ring: [{ endpoint: 'ines-mobile' }], forMs: 9000 }],
      ending: { kind: 'mailbox' },
    });
    expect(after.lines[0]!.forwardAll).toEqual({ kind: 'mailbox' });
    expect(JSON.stringify(after)).not.toContain(gone);
  });
});

describe('a switch', () => {
  const offInNight: Person = {
    ...ines,
    plan: {
      ...ines.plan,
      rules: ines.plan.rules.map((rule) =>
        rule.id === 'r-night'
          ? { ...rule, stages: [{ ring: [{ endpoint: 'ines-mobile', enabled: false }], forMs: 5000 }] }
          : rule,
      ),
    },
  };
  test('off and on again is exactly as before: where it had been off by itself it stays off', () => {
    const off = switchEndpoint(offInNight, 'ines-mobile', false);
    expect(isValid(off)).toBe(true);
    expect(off).not.toEqual(offInNight);
    expect(switchEndpoint(off, 'ines-mobile', true)).toEqual(offInNight);
  });
  test('off twice remembers the first; on twice changes nothing more', () => {
    const off = switchEndpoint(switchEndpoint(offInNight, 'ines-mobile', false), 'ines-mobile', false);
    const on = switchEndpoint(off, 'ines-mobile', true);
    expect(on).toEqual(offInNight);
    expect(switchEndpoint(on, 'ines-mobile', true)).toEqual(offInNight);
  });
  test('off everywhere by hand, it rings everywhere when it is switched on', () => {
    const all: Person = {
      ...ines,
      plan: {
        rules: [],
        otherwise: {
          stages: [{ ring: [{ endpoint: 'ines-mobile', enabled: false }], forMs: 5000 }],
          ending: { kind: 'mailbox' },
        },
      },
    };
    expect(switchEndpoint(all, 'ines-mobile', true).plan.otherwise.stages).toEqual([
      { ring: [{ endpoint: 'ines-mobile' }], forMs: 5000 },
    ]);
  });
});
