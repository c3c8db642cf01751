import { newPerson, type NewPerson } from '../../core/editing';
import { parts, type Fault } from '../../core/estate';
import { readNumber } from '../../core/calls/dialling';
import { notRight } from '../base';
import { changeEstate, insertPeople, nextPosition, personFaults } from '../estate';
import type { Services } from '../http';
import { addRecord } from '../record';
import { noteRunning } from '../restarts';

/** What is sent of somebody new; numbers in any form. */
export const newPersonSchema = parts.closed({
  name: parts.text(200).required('is missing'),
  extension: parts.text(32).matches(/^\d+$/, 'must be digits').required('is missing'),
  direct: parts.text(40),
  mobile: parts.text(40),
  status: parts.requiredId(),
  permission: parts.requiredId(),
  template: parts.id(),
  colleague: parts.id(),
});

/** Where a fault of somebody new shows in what was sent. */
const SENT: readonly (readonly [RegExp, string])[] = [
  [/^person\.lines\[0\]\.extension/, 'extension'],
  [/^person\.lines\[0\]\.numbers/, 'direct'],
  [/^person\.endpoints\[1\]/, 'mobile'],
  [/^person\./, ''],
];
const asSent = (fault: Fault): Fault => {
  const [form, path] = SENT.find(([each]) => each.test(fault.path)) ?? [/^$/, fault.path];
  return { ...fault, path: path || fault.path.replace(form, '') };
};

/** Adds somebody, as the estate stands once nobody else can write. @returns their id */
export const addPerson = (
  services: Pick<Services, 'db' | 'store' | 'now'>,
  who: string,
  given: NewPerson,
): Promise<string> =>
  changeEstate(services, async (tx, { live, countUp }) => {
    const { estate } = live;
    const faults: Fault[] = [];
    const known = (path: string, objects: readonly { readonly id: string }[], each: string | undefined) => {
      if (each !== undefined && !objects.some((object) => object.id === each))
        faults.push({ path, message: 'is not there any more' });
    };
    known('template', estate.templates ?? [], given.template);
    known('colleague', estate.people, given.colleague);
    const read = (path: 'direct' | 'mobile') => {
      const text = given[path];
      if (text === undefined || text.trim() === '') return undefined;
      const number = readNumber(text, estate.dialling);
      if (number.ok) return number.e164;
      faults.push({ path, message: number.reason });
      return undefined;
    };
    const numbers = { direct: read('direct'), mobile: read('mobile') };
    if (given.extension.length !== estate.dialling.extensionDigits)
      faults.push({ path: 'extension', message: `must have ${estate.dialling.extensionDigits} digits` });
    if (faults.length > 0) throw notRight(faults);
    const person = newPerson(estate, { ...given, ...numbers, name: given.name.trim() });
    const wrong = personFaults(live, person, person.id);
    if (wrong.length > 0) throw notRight(wrong.map(asSent));
    await insertPeople(tx, [person], await countUp(true), await nextPosition(tx));
    await noteRunning(tx, [[null, person]], services.now());
    await addRecord(tx, {
      who,
      kind: 'person-added',
      personId: person.id,
      subject: person.name,
      after: person,
    });
    return person.id;
  });
