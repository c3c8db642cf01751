import { readEstate } from '../estate';
import { mayDial, readNumber } from '../calls/dialling';
import { compileEstate, runCall } from '../calls/engine';
import { newPerson, nextExtension } from './new-person';
import { begunEstate, emptyEstate, isUnbegun, prefixesOf, type OrganisationBeginning } from './beginning';

const GIVEN: OrganisationBeginning = {
  name: 'Harbour Works',
  country: 'GB',
  timeZone: 'Europe/London',
  outsideCode: '9',
  areaCodes: ['20'],
  extensionDigits: 4,
  trunk: { name: 'Main trunk', channels: 12 },
  opens: '08:30',
  closes: '17:00',
};

test('nothing, and what is begun, are both valid; only nothing is unbegun', () => {
  expect(readEstate(emptyEstate())).toMatchObject({ ok: true });
  expect(isUnbegun(emptyEstate())).toBe(true);
  const begun = begunEstate(GIVEN);
  expect(readEstate(begun)).toMatchObject({ ok: true });
  expect(isUnbegun(begun)).toBe(false);
});

test('the first person that is added can be called, and may ring their own mobile', () => {
  const begun = begunEstate(GIVEN);
  const extension = nextExtension(begun)!;
  expect(extension).toMatch(/^\d{4}$/);
  expect(extension.startsWith('9')).toBe(false);
  const mobile = readNumber('020 7946 0188', begun.dialling);
  expect(mobile).toMatchObject({ ok: true, e164: '+442079460188' });
  const person = newPerson(begun, {
    name: 'Dalia Wren',
    extension,
    mobile: '+442079460188',
    status: begun.statuses[0]!.id,
    permission: begun.permissions[0]!.id,
  });
  const estate = { ...begun, people: [person] };
  expect(readEstate(estate)).toMatchObject({ ok: true });
  expect(mayDial(person, '+442079460188', estate)).toMatchObject({ ok: true });
  const { outcome, legs } = runCall(compileEstate(estate), {
    from: '+442079460199',
    to: extension,
    at: '2026-11-24T10:00:00+00:00',
  });
  expect(legs.map(({ endpoint }) => endpoint)).toEqual([`${person.id}-desk`, `${person.id}-mobile`]);
  expect(outcome).toMatchObject({ kind: 'mailbox', person: person.id });
});

test.each([
  ['CA', '1', '011'],
  ['GB', '0', '00'],
  ['IT', '', '00'],
  ['AU', '0', '0011'],
])('%s dials %s before national numbers and %s before those abroad', (country, national, international) => {
  expect(prefixesOf(country)).toEqual({ nationalPrefix: national, internationalPrefix: international });
});
