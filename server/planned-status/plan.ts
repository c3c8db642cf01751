import type { Person } from '../../core/estate';
import type { Tx } from '../db';
import { changeEstate, loadPerson, type Held } from '../estate';
import type { Services } from '../http';
import { writePerson, type Told } from '../people';
import { duePlans, lockPlan, patchPlan, type StoredPlan } from './queries';

type Doing = Pick<Services, 'db' | 'store' | 'now'>;

async function setStatus(
  tx: Tx,
  held: Held,
  person: Person,
  status: string,
  told: Pick<Told, 'who' | 'why'>,
  at: Date,
): Promise<void> {
  if (person.status === status) return;
  const after = { ...person, status };
  await writePerson(tx, held, person, after, { ...told, kind: 'status-set', detail: status }, at);
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
    await setStatus(tx, held, person, plan.status, { who: plan.madeBy, why: 'as planned' }, now);
    return patchPlan(tx, plan.id, 'on', person.status);
  }
  // Somebody who has set another status meanwhile keeps it.
  if (person.status === plan.status && plan.backTo !== null && isThere(plan.backTo))
    await setStatus(
      tx,
      held,
      person,
      plan.backTo,
      { who: plan.madeBy, why: 'as it was before what was planned' },
      now,
    );
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
