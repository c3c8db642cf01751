import type { SlateEntry } from '../../core/changes/slate';
import { inTransaction } from '../db';
import type { Services } from '../http';
import { refusal } from '../base';
import { applySlate, sayRefused } from './apply';
import { addSlate, putEntries, removeUnseen } from './queries';

/** What became of changes that were to be put live at once. */
export type AtOnce =
  | { readonly slate: number; readonly live: true; readonly changed: number }
  /** They stand on the slate and are not live, for this reason. */
  | { readonly slate: number; readonly live: false; readonly message: string };

/** Slate names have so much room. */
const NAME = 200;

/**
 * Puts changes of many objects live at once, on a slate of their own, so that they stand in the record as one and are
 * taken back as one. What makes drills fail, or cannot be, stays on the slate to be looked at.
 * @throws Refusal where somebody else has changed one of the objects since: nothing is written then
 */
export async function slateAtOnce(
  services: Pick<Services, 'db' | 'store' | 'now'>,
  who: string,
  name: string,
  entries: readonly SlateEntry[],
): Promise<AtOnce> {
  const at = services.now();
  const slate = await inTransaction(services.db, async (connection) => {
    const id = await addSlate(connection, name.slice(0, NAME), who, at);
    await putEntries(connection, id, entries, who, at);
    return id;
  });
  const applied = await applySlate(services, slate, who, null);
  if (applied.ok) return { slate, live: true, changed: applied.changed };
  const message = sayRefused(applied.refused);
  if (applied.refused.kind === 'drills' || applied.refused.kind === 'faults')
    return { slate, live: false, message };
  await removeUnseen(services.db, slate);
  throw refusal(
    409,
    applied.refused.kind === 'empty'
      ? 'All of this is as it was to be already.'
      : `${message} Nothing was written; look again.`,
  );
}
