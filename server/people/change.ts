import { isSame } from '../../core/editing';
import type { Person } from '../../core/estate';
import type { Tx } from '../db';
import { changeEstate, personFaults, loadPerson, updatePeople, type Held } from '../estate';
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

/** What is said in the record of a change. */
export interface Told {
  readonly who: string;
  readonly kind: RecordKind;
  readonly detail?: string;
  readonly why?: string;
}

/** Writes somebody as they become, and the record of it, within a transaction that holds the estate. */
export async function writePerson(
  tx: Tx,
  { countUp }: Pick<Held, 'countUp'>,
  before: Person,
  after: Person,
  told: Told,
  at: Date,
  structure = false,
): Promise<void> {
  await updatePeople(tx, [after], await countUp(structure));
  await noteRunning(tx, [[before, after]], at);
  await addRecord(tx, { ...told, personId: after.id, subject: after.name, before, after });
}

/** Writes one change of one person and the record of it in one transaction. */
export async function changePerson(
  services: Pick<Services, 'db' | 'store' | 'now'>,
  who: string,
  id: string,
  { kind, detail, change, version }: Change,
): Promise<void> {
  await changeEstate(services, async (tx, held) => {
    const stored = await loadPerson(tx, id);
    if (!stored) throw refusal(404, 'There is no such person.');
    if (version !== undefined && version !== stored.version)
      throw refusal(409, 'Somebody else has changed this person since you opened the page.', {
        extra: { theirs: stored },
      });
    const after = change(stored.person);
    const faults = personFaults(held.live, after, id);
    if (faults.length > 0) throw notRight(faults);
    if (isSame(stored.person, after)) return;
    await writePerson(tx, held, stored.person, after, { who, kind, detail }, services.now());
  });
}
