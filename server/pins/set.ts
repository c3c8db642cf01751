import { randomInt } from 'node:crypto';
import type { Person } from '../../core/estate';
import { pinFault } from '../../core/devices/provisioning';
import { hashCode } from '../auth';
import { inTransaction } from '../db';
import { notRight, refusal } from '../base';
import type { SignedIn } from '../http';
import { addRecord } from '../record';
import { deletePin, putPin } from './queries';

/** A PIN that is hard to guess. @param isGood whether one will do */
function newPin(isGood: (pin: string) => boolean): string {
  for (;;) {
    const pin = String(randomInt(1_000_000)).padStart(6, '0');
    if (isGood(pin)) return pin;
  }
}

/** Gives a person a PIN: the one sent, or a good one that is told this once. */
export async function setPin(
  { services, account }: SignedIn,
  person: Person,
  given: string | undefined,
): Promise<{ readonly pin: string | null }> {
  const known = [
    ...person.lines.flatMap(({ extension, numbers = [] }) => [extension, ...numbers]),
    ...person.endpoints.flatMap(({ number }) => (number === undefined ? [] : [number])),
  ];
  const fault = given === undefined ? null : pinFault(given, known);
  if (fault !== null) throw notRight([{ path: 'pin', message: fault }]);
  const pin = given ?? newPin((each) => pinFault(each, known) === null);
  const hash = await hashCode(pin);
  await inTransaction(services.db, async (db) => {
    await putPin(db, person.id, hash, account.name, services.now());
    await addRecord(db, { who: account.name, kind: 'pin-set', personId: person.id, subject: person.name });
  });
  return { pin: given === undefined ? pin : null };
}

/** Takes a person's PIN away, as where somebody else has seen it: whatever asks for one refuses them until another is set. */
export async function removePin({ services, account }: SignedIn, person: Person): Promise<void> {
  await inTransaction(services.db, async (db) => {
    if (!(await deletePin(db, person.id))) throw refusal(404, `${person.name} has no PIN.`);
    await addRecord(db, {
      who: account.name,
      kind: 'pin-removed',
      personId: person.id,
      subject: person.name,
    });
  });
}
