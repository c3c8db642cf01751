import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { demoPast, type DemoPast } from '../demo/calls';
import type { Estate } from '../core/estate';
import { partOffMonths, putCalls } from './collected';
import type { Queryable, Tx } from './db';
import { updatePeople, writeEstate } from './estate';
import { addRecord } from './record';

const AT_ONCE = 1000;
const TARIFF = resolve(__dirname, '../demo/tariff.csv');

/** Six weeks of made-up calls, before the estate that they went by is there: done again, it does no harm. */
export async function demoCalls(keeper: Queryable, estate: Estate, now: Date): Promise<DemoPast> {
  const past = demoPast(estate, now.getTime());
  const [first, last] = [past.records[0], past.records.at(-1)];
  if (first && last) await partOffMonths(keeper, new Date(first.startMs), new Date(last.startMs));
  for (let from = 0; from < past.records.length; from += AT_ONCE)
    await putCalls(keeper, past.records.slice(from, from + AT_ONCE));
  return past;
}

/** Writes the estate as it was six weeks ago, and each change since at its moment: what was, can be looked at. */
export async function demoHistory(tx: Tx, past: DemoPast): Promise<void> {
  for (const [nth, { fromMs, estate, changed }] of past.versions.entries()) {
    await tx.atTime(new Date(fromMs));
    if (changed === null) {
      await writeEstate(tx, estate, 'set-up');
      continue;
    }
    const personIn = (version: Estate) => version.people.find(({ id }) => id === changed.person)!;
    const [before, after] = [personIn(past.versions[nth - 1]!.estate), personIn(estate)];
    await updatePeople(tx, [after], nth + 1);
    await tx.execute('UPDATE organisation SET revision = ?', [nth + 1]);
    await addRecord(tx, {
      who: 'specialist',
      kind: before.status === after.status ? 'person-changed' : 'status-set',
      personId: after.id,
      subject: after.name,
      why: changed.why,
      before,
      after,
    });
  }
  for (const { atMs, endpoint, state } of past.registrations)
    await tx.execute(
      'INSERT INTO registration_change (at, user, endpoint, state, transport) VALUES (?, ?, ?, ?, ?)',
      [new Date(atMs), endpoint, endpoint, state, 'udp'],
    );
  await tx.atTime(null);
  await tx.execute('INSERT INTO tariff (name, currency, source, who, at) VALUES (?, ?, ?, ?, ?)', [
    'Terminal and overseas trunks',
    'CAD',
    readFileSync(TARIFF, 'utf8'),
    'set-up',
    new Date(),
  ]);
}
