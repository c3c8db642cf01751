import { differences } from '../../core/editing';
import type { Person } from '../../core/estate';
import { changeEstate, personFaults, loadPerson, updatePeople } from '../estate';
import { notRight, refusal } from '../base';
import type { Services } from '../http';
import { addRecord, type RecordKind } from '../record';
import { noteRunning } from '../restarts';

export interface Change {
  readonly kind: RecordKind;
  readonly detail: string;
  readonly change: (before: Person) => Person;
  /** The version that the change was made on; a change that needs none is made on whatever is there. */
  readonly version?: number;
}

/** Writes one change of one person and the record of it in one transaction. */
export async function changePerson(
  services: Pick<Services, 'db' | 'store' | 'now'>,
  who: string,
  id: string,
  { kind, detail, change, version }: Change,
): Promise<void> {
  await changeEstate(services, async (tx, { live, countUp }) => {
    const stored = await loadPerson(tx, id);
    if (!stored) throw refusal(404, 'There is no such person.');
    if (version !== undefined && version !== stored.version)
      throw refusal(409, 'Somebody else has changed this person since you opened the page.', {
        extra: { theirs: stored },
      });
    const after = change(stored.person);
    const faults = personFaults(live, after, id);
    if (faults.length > 0) throw notRight(faults);
    if (differences(stored.person, after).length === 0) return;
    await updatePeople(tx, [after], await countUp(false));
    await noteRunning(tx, [[stored.person, after]], services.now());
    await addRecord(tx, {
      who,
      kind,
      personId: id,
      subject: after.name,
      detail,
      before: stored.person,
      after,
    });
  });
}
