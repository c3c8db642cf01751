import type { Db } from '../db';
import type { Services } from '../http';
import { deskOfEndpoint } from '../../core/desks';
import { noteUse, noteUseBy, openSignOns, signOnStamp } from './queries';
import { dueOf, isInCall, signOff } from './sign-on';

/**
 * Signs off whoever is due, with the moment at which they were due: one that no server ran at is made up for. Nobody
 * is signed off in a call. Two servers at once sign off each once.
 * @returns how many were signed off
 */
export async function signOffDue(
  services: Pick<Services, 'db' | 'store' | 'now' | 'phones'>,
): Promise<number> {
  const open = await openSignOns(services.db);
  if (open.length === 0) return 0;
  const live = await services.store.current();
  const due = dueOf(live);
  const nowMs = services.now().getTime();
  let done = 0;
  for (const on of open) {
    const when = due(on, nowMs);
    if (!when || when.atMs > nowMs || isInCall(services, live, on, on.desk)) continue;
    if (await signOff(services, on, when.why, 'by itself', new Date(when.atMs))) done += 1;
  }
  if (done > 0) services.phones.signOnsChanged();
  return done;
}

/** Notes that phones had a call: a shared desk among them is not idle. @param endpoints as the phone system has them */
export async function noteCalls(
  { db, store, now }: Pick<Services, 'db' | 'store' | 'now'>,
  endpoints: readonly string[],
): Promise<void> {
  const { finder } = await store.current();
  const people = endpoints.flatMap((endpoint) => {
    const owner = finder.ownerOf(endpoint);
    const kind = owner?.endpoints.find(({ id }) => id === endpoint)?.kind;
    return owner && kind === 'hot-desk' ? [owner.id] : [];
  });
  await noteUse(
    db,
    endpoints.flatMap((endpoint) => deskOfEndpoint(endpoint) ?? []),
    now(),
  );
  await noteUseBy(db, people, now());
}

/** Who is signed on at which shared desk, for the phone system. */
export const whoIsSignedOn = (db: Db) => ({
  read: async (): Promise<ReadonlyMap<string, string>> =>
    new Map((await openSignOns(db)).map(({ desk, person }) => [desk, person])),
  stamp: () => signOnStamp(db),
});
