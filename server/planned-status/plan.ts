import type { Person } from '../../core/estate';
import type { Tx } from '../db';
import { changeEstate, loadPerson, updatePeople, type Held } from '../estate';
import type { Services } from '../http';
import { addRecord } from '../record';
import { duePlans, lockPlan, patchPlan, type StoredPlan } from './queries';

type Doing = Pick<Services, 'db' | 'store' | 'now'>;

async function setStatus(
  tx: Tx,
  { countUp }: Held,
  person: Person,
  status: string,
  who: string,
  why: string,
): Promise<void> {
  if (person.status === status) return;
  const after = { ...person, status };
  await updatePeople(tx, [after], await countUp(false));
  await addRecord(tx, {
    who,
    kind: 'status-set',
    personId: person.id,
    subject: person.name,
    detail: status,
    why,
    before: person,
    after,
  });
}

/** Begins or ends one, as it stands now; what cannot be done, because person or status are gone, is given up. */
async function takeUp(tx: Tx, held: Held, plan: StoredPlan, now: Date): Promise<void> {
  const stored = await loadPerson(tx, plan.person);
  const isThere = (id: string) => held.live.ids.statuses.has(id);
  if (!stored || !isThere(plan.status)) return patchPlan(tx, plan.id, 'failed', plan.backTo);
  const { person } = stored;
  if (plan.state === 'planned') {
    // What would have begun and ended while no server ran is over.
    if (plan.to <= now) return patchPlan(tx, plan.id, 'done', null);
    await setStatus(tx, held, person, plan.status, plan.madeBy, 'as planned');
    return patchPlan(tx, plan.id, 'on', person.status);
  }
  // Somebody who has set another status meanwhile keeps it.
  if (person.status === plan.status && plan.backTo !== null && isThere(plan.backTo))
    await setStatus(tx, held, person, plan.backTo, plan.madeBy, 'as it was before what was planned');
  return patchPlan(tx, plan.id, 'done', plan.backTo);
}

/**
 * Sets the statuses that begin now and sets back those that end, each once whichever server looks: it is locked, and
 * looked at again, in the transaction that writes.
 */
export async function applyPlanned(services: Doing): Promise<void> {
  const due = await duePlans(services.db, services.now());
  for (const id of due)
    await changeEstate(services, async (tx, held) => {
      const plan = await lockPlan(tx, id);
      const now = services.now();
      if (plan?.state === 'planned' ? plan.from <= now : plan?.state === 'on' && plan.to <= now)
        await takeUp(tx, held, plan!, now);
    });
}

/** Takes one back: before it has begun it never does; one that is on ends now. @returns whether there was one */
export const endPlan = (services: Doing, person: string, id: number): Promise<boolean> =>
  changeEstate(services, async (tx, held) => {
    const plan = await lockPlan(tx, id);
    if (plan?.person !== person || !['planned', 'on'].includes(plan.state)) return false;
    if (plan.state === 'planned') await patchPlan(tx, id, 'done', null);
    else await takeUp(tx, held, plan, services.now());
    return true;
  });
