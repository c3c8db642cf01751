import { workedEstate } from '../../tests/worked';
import { readEstate, type Estate, type Person } from '../../estate';
import { applyEntries } from '../slate';
import { removePhone } from './remove-phone';

const worked = workedEstate();
const gone = 'ines-desk';
const patched = (id: string, change: (person: Person) => Person): Estate => ({
  ...worked,
  people: worked.people.map((each) => (each.id === id ? change(each) : each)),
});

test('a phone that only its owner uses leaves one change, and says what it leaves behind', () => {
  const estate = patched('ines', (ines) => ({
    ...ines,
    plan: {
      rules: [],
      otherwise: { stages: [{ ring: [{ endpoint: gone }], forMs: 5000 }], ending: { kind: 'mailbox' } },
    },
  }));
  // Ruth's plan rings it too.
  const people = estate.people.filter(({ id }) => id !== 'ruth');
  const alone: Estate = { ...estate, people, groups: [], menus: [], devices: [] };
  const removal = removePhone(alone, gone)!;
  expect(removal.entries.map(({ kind, id }) => `${kind}/${id}`)).toEqual(['person/ines']);
  expect(removal.says).toEqual(['the default rule rings it: taken out, with a step that rang nothing else']);
});

test('a phone that others use is taken out of all of it together, and what is left is valid', () => {
  const base = patched('ruth', (ruth) => ({
    ...ruth,
    plan: {
      ...ruth.plan,
      otherwise: { ...ruth.plan.otherwise, ending: { kind: 'endpoint', endpoint: gone } },
    },
  }));
  const estate: Estate = {
    ...base,
    groups: base.groups.map((group, i) =>
      i === 0 ? { ...group, members: [...group.members, { endpoint: gone }] } : group,
    ),
    devices: [{ id: 'd-1', name: 'Quay desk', model: 'any', endpoint: gone }],
  };
  const removal = removePhone(estate, gone)!;
  const touched = removal.entries.map(({ kind, id }) => `${kind}/${id}`);
  expect(touched).toEqual(
    expect.arrayContaining(['person/ines', 'person/ruth', `group/${estate.groups[0]!.id}`, 'device/d-1']),
  );
  expect(removal.says).toEqual(
    expect.arrayContaining([
      'Ruth Adeyemi: calls that ended at it go to voicemail',
      `The group ${estate.groups[0]!.name} has it: taken out; calls that ended at it go to voicemail for Ines Okafor`,
      'Quay desk is this phone: it is free for somebody else',
    ]),
  );
  const after = applyEntries(estate, removal.entries);
  expect(JSON.stringify(after)).not.toContain(gone);
  expect(readEstate(after)).toMatchObject({ ok: true });
});

test('a phone that nobody has', () => {
  expect(removePhone(worked, 'no-such-phone')).toBeNull();
});
