import { differences, parts, type Person } from '../../core/estate';
import { inTransaction } from '../db';
import { nextRevision } from '../estate/queries';
import { checkedBody, refusal, ROLES, type Route, type SignedIn } from '../http/routes';
import { personFaults } from '../people/check';
import { loadPerson, updatePeople } from '../people/queries';
import { noteRunning } from '../restarts/queries';
import { addRecord, listRecord, readRecord, type RecordEntry } from './queries';

const PAGE = 50;

const undoSchema = parts.closed({
  entries: parts.requiredList(parts.count(1).required('is missing')).min(1),
});

/** Whether an entry tells of one person's change, so that the person can be put back. */
const canBeTakenBack = (entry: RecordEntry): boolean =>
  entry.personId !== null && entry.before !== undefined && entry.after !== undefined;

/** Puts people back to what they were before some changes, if nothing was changed since: all of them or none. */
async function takeBack({ services, account, body }: SignedIn): Promise<{ body: { people: number } }> {
  const { entries: ids } = checkedBody<{ entries: readonly number[] }>(body, undoSchema);
  const entries = await readRecord(services.db, ids);
  if (entries.length < new Set(ids).size || !entries.every(canBeTakenBack))
    throw refusal(400, 'This is nothing that can be taken back.');
  const live = await services.store.current();
  const changed: Person[] = [];
  await inTransaction(services.db, async (connection) => {
    const revision = await nextRevision(connection, false);
    const since: string[] = [];
    for (const entry of entries) {
      const before = entry.before as Person;
      const stored = await loadPerson(connection, before.id);
      if (!stored || differences(stored.person, entry.after).length > 0) {
        since.push(entry.subject);
        continue;
      }
      const faults = personFaults(live, before, before.id);
      if (faults.length > 0) throw refusal(400, `${entry.subject} cannot be as before.`, { faults });
      changed.push(before);
      await addRecord(connection, {
        who: account.name,
        kind: 'taken-back',
        personId: before.id,
        subject: before.name,
        detail: `entry ${entry.id}`,
        before: stored.person,
        after: before,
      });
    }
    if (since.length > 0)
      throw refusal(409, `${since.join(', ')} was changed again since. Nothing was taken back.`);
    await updatePeople(connection, changed, revision);
    await noteRunning(
      connection,
      changed.map((person) => [live.finder.person(person.id) ?? null, person]),
      services.now(),
    );
  });
  return { body: { people: changed.length } };
}

export const recordRoutes: readonly Route[] = [
  {
    method: 'GET',
    path: '/api/record',
    roles: ROLES,
    handle: async ({ services: { db }, query }) => {
      const beforeId = query.before ? Number(query.before) : undefined;
      const entries = await listRecord(db, {
        ...(beforeId !== undefined && Number.isSafeInteger(beforeId) ? { beforeId } : {}),
        ...(query.person ? { personId: query.person } : {}),
        limit: PAGE,
      });
      const shown = entries.map(({ before, after, ...entry }) => ({
        ...entry,
        changes: before === undefined || after === undefined ? [] : differences(before, after),
      }));
      return { body: { entries: shown, more: entries.length === PAGE } };
    },
  },
  { method: 'POST', path: '/api/record/undo', roles: ['specialist'], handle: takeBack },
];
