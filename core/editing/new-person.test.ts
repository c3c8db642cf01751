import { readEstate, type Estate } from '../estate';
import { CANADA } from '../tests/dial-plans';
import { personOf, smallEstate } from '../tests/small';
import { newPerson, nextExtension, slug } from './new-person';

const estate = smallEstate([personOf('ada', 1, {}), personOf('ben', 3, {})]);
const GIVEN = { name: 'Zoë Quill', extension: '4102', status: 'on', permission: 'all' };
const withPerson = (person: ReturnType<typeof newPerson>, before: Estate = estate) =>
  readEstate({ ...before, people: [...before.people, person] });

test('the next free extension fills the first gap, and passes over groups and the outside code', () => {
  expect(nextExtension(estate)).toBe('4102');
  const crew = { id: 'c', name: 'C', extension: '4102', mode: 'linear', members: [], ringMs: 1000 } as never;
  expect(nextExtension({ ...estate, groups: [crew] })).toBe('4104');
  expect(nextExtension({ ...estate, people: [] })).toBe('1000');
  const nines = {
    ...estate,
    people: [personOf('ada', 1, {}, { lines: [{ id: 'l', extension: '8999', numbers: [] }] })],
  };
  // 9 is the outside code: what begins with it would be taken for a number outside.
  expect(CANADA.outsideCode).toBe('9');
  expect(nextExtension(nines)).toBeNull();
});

test('somebody new has a line, a desk phone that rings, and voicemail; the mobile rings with care', () => {
  const plain = newPerson(estate, GIVEN);
  expect(withPerson(plain)).toMatchObject({ ok: true });
  expect(plain).toMatchObject({ id: 'zoe-quill', lines: [{ extension: '4102', numbers: [] }] });
  const mobile = newPerson(estate, { ...GIVEN, mobile: '+17785550144', direct: '+12505550144' });
  expect(withPerson(mobile)).toMatchObject({ ok: true });
  expect(mobile.lines[0]!.numbers).toEqual(['+12505550144']);
  expect(mobile.plan.otherwise.stages[0]).toMatchObject({
    ring: [{ endpoint: 'zoe-quill-desk' }, { endpoint: 'zoe-quill-mobile', acceptAfterMs: 2300 }],
  });
});

test('a namesake gets an id of their own, whatever the name is', () => {
  const first = newPerson(estate, GIVEN);
  const people = [...estate.people, first];
  const second = newPerson({ ...estate, people }, { ...GIVEN, extension: '4105' });
  expect(second.id).toBe('zoe-quill-4105');
  expect(withPerson(second, { ...estate, people })).toMatchObject({ ok: true });
  expect(newPerson(estate, { ...GIVEN, name: '李' }).id).toBe('person');
  expect(slug('Ólafur  O’Brien')).toBe('olafur-o-brien');
});

test('the plan comes from a template or a colleague, with the phones of the new one', () => {
  const template = {
    id: 't',
    name: 'T',
    note: '',
    plan: {
      rules: [],
      otherwise: {
        stages: [{ ring: [{ endpoint: 'own:desk:1' }, { endpoint: 'own:mobile:1' }], forMs: 9000 }],
        ending: { kind: 'mailbox' as const },
      },
    },
  };
  const before: Estate = { ...estate, templates: [template] };
  const followed = newPerson(before, { ...GIVEN, template: 't' });
  expect(followed.template).toBe('t');
  expect(followed.plan.otherwise.stages).toEqual([{ ring: [{ endpoint: 'zoe-quill-desk' }], forMs: 9000 }]);
  expect(withPerson(followed, before)).toMatchObject({ ok: true });
  const like = newPerson(before, { ...GIVEN, colleague: 'ada' });
  expect(like.plan.otherwise.stages).toMatchObject([{ ring: [{ endpoint: 'zoe-quill-desk' }] }]);
});
