import { clearInterval, setInterval } from 'node:timers';
import type { Logger } from 'pino';
import { inTransaction } from '../db';
import { aboutError, onceAMinute } from '../base';
import type { Switchboard } from '../switchboard';
import { addRecord } from '../record';
import { signOffDue } from '../desks';
import { endLostCalls, signOffGone } from '../seats';
import { applyPlanned } from '../planned-status';
import { restartDue } from '../restarts';
import { applySlate, sayRefused, type Applying } from './apply';
import { dueSlates, patchSlate, readSlate } from './queries';

/**
 * Puts live what is due. Each slate is taken once, whichever server looks and however the clock jumps: its state
 * is changed in the transaction that puts it live. One that cannot be is held, with the reason, for Today.
 * @returns the slates that were taken up
 */
export async function applyDue(services: Applying): Promise<readonly number[]> {
  const due = await dueSlates(services.db, services.now());
  for (const id of due) {
    const slate = await readSlate(services.db, id);
    if (slate?.state !== 'timed') continue;
    const applied = await applySlate(services, id, slate.owner, slate.overrule, ['timed']);
    if (applied.ok || applied.refused.kind === 'gone') continue;
    const why = sayRefused(applied.refused);
    await inTransaction(services.db, async (connection) => {
      const again = await readSlate(connection, id, true);
      if (again?.state !== 'timed') return;
      await patchSlate(connection, id, { state: 'held', heldWhy: why.slice(0, 4000) }, services.now());
      await addRecord(connection, {
        who: slate.owner,
        kind: 'slate-held',
        subject: slate.name,
        detail: why.slice(0, 2000),
        slateId: id,
      });
    });
  }
  return due;
}

const LOOK_EVERY_MS = 5000;

/** Looks every few seconds for what is due, until it is stopped. */
export function watchDue(services: Applying & { readonly phones: Switchboard }, log: Logger): () => void {
  let looking = false;
  const say = onceAMinute(log);
  const look = async () => {
    if (looking) return;
    looking = true;
    try {
      await applyDue(services);
      await restartDue(services);
      await applyPlanned(services);
      await signOffDue(services);
      await endLostCalls(services);
      await signOffGone(services);
    } catch (error) {
      say('what is due could not be done', { err: aboutError(error) });
    } finally {
      looking = false;
    }
  };
  const timer = setInterval(() => void look(), LOOK_EVERY_MS);
  void look();
  return () => clearInterval(timer);
}
