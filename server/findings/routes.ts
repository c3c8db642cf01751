import type { Findings } from '../../api/findings';
import { DateTime } from 'luxon';
import {
  auditBy,
  checkContext,
  CHECKS,
  mergeFindings,
  sarifLog,
  type Finding,
} from '../../core/assurance/checks';
import { parts } from '../../core/estate';
import { inTransaction } from '../db';
import { checkedBody, type Route, type Services } from '../http';
import { notRight, refusal, ROLES } from '../base';
import { addRecord } from '../record';
import { readRunning } from '../restarts';
import { putMark, readMarks, type Mark } from './queries';
import { findingsOf } from './store';
import { zoneNamed } from '../../core/zones';

/** A finding as it is shown: without its mend's objects, with what was decided about it. */
export interface ShownFinding extends Omit<Finding, 'mend'> {
  readonly mend: string | null;
  readonly mark: Mark | null;
  /** Whether it asks for something now: not put off, not accepted. */
  readonly isOpen: boolean;
}

/** What phones run changes without the estate, so what they owe is looked at each time. */
async function restartFindings({
  db,
  store,
  now,
}: Pick<Services, 'db' | 'store' | 'now'>): Promise<Finding[]> {
  const behind = await readRunning(db);
  if (behind.length === 0) return [];
  const { estate, finder } = await store.current();
  const people = [...new Set(behind.flatMap(({ endpoint }) => finder.ownerOf(endpoint) ?? []))];
  return auditBy('restart-owed', people, checkContext({ ...estate, people }, now().getTime(), behind));
}

export async function shownFindings({ db, store, now }: Services): Promise<readonly ShownFinding[]> {
  const { estate } = await store.current();
  const [kept, marks] = await Promise.all([findingsOf(store, now().getTime()), readMarks(db)]);
  const findings = mergeFindings(kept, await restartFindings({ db, store, now }));
  const today = DateTime.fromJSDate(now(), { zone: zoneNamed(estate.timeZone) }).toISODate() ?? '';
  return findings.map(({ mend, ...rest }) => {
    const mark = marks.get(rest.key) ?? null;
    const isOff = mark !== null && mark.putOffUntil !== null && mark.putOffUntil > today;
    return { ...rest, mend: mend?.says ?? null, mark, isOpen: !isOff && !mark?.acceptedWhy };
  });
}

const CHECK_WORDS = CHECKS.map(({ id, title, looksFor, why, weight, of }) => ({
  id,
  title,
  looksFor,
  why,
  weight,
  of,
}));
const markSchema = parts.closed({
  key: parts.requiredText(500),
  assignee: parts.text(80).nullable(),
  putOffUntil: parts.choose((value) =>
    value === undefined || value === null ? parts.anything().nullable() : parts.date(),
  ),
  acceptedWhy: parts.text(2000).nullable(),
});
const mendSchema = parts.closed({ key: parts.requiredText(500) });

export const findingRoutes: readonly Route[] = [
  {
    method: 'GET',
    path: '/api/findings',
    roles: ROLES,
    handle: async ({ services, query }) => {
      const all = await shownFindings(services);
      const findings = query.subject
        ? all.filter(({ subject }) => `${subject.kind}/${subject.id}` === query.subject)
        : all;
      return { body: { findings, checks: CHECK_WORDS } satisfies Findings };
    },
  },
  {
    method: 'GET',
    path: '/api/findings/sarif',
    roles: ['specialist'],
    handle: async ({ services: { store, now } }) => ({
      text: JSON.stringify(sarifLog(await findingsOf(store, now().getTime()))),
      headers: {
        'Content-Type': 'application/sarif+json; charset=utf-8',
        'Content-Disposition': 'attachment; filename="findings.sarif"',
      },
    }),
  },
  {
    method: 'PUT',
    path: '/api/findings/mark',
    roles: ['specialist', 'help-desk'],
    handle: async ({ services, account, body }) => {
      const { key, assignee, putOffUntil, acceptedWhy } = checkedBody<{
        key: string;
        assignee?: string | null;
        putOffUntil?: string | null;
        acceptedWhy?: string | null;
      }>(body, markSchema);
      const { db, now } = services;
      const found = (await shownFindings(services)).find((each) => each.key === key);
      if (!found) throw refusal(404, 'This is not found any more.');
      if (acceptedWhy !== undefined && acceptedWhy !== null && !acceptedWhy.trim())
        throw notRight([{ path: 'acceptedWhy', message: 'say why it is accepted' }]);
      await inTransaction(db, async (connection) => {
        const before = (await readMarks(connection)).get(key);
        const mark = {
          assignee: assignee === undefined ? (before?.assignee ?? null) : assignee,
          putOffUntil: putOffUntil === undefined ? (before?.putOffUntil ?? null) : putOffUntil,
          acceptedWhy:
            acceptedWhy === undefined ? (before?.acceptedWhy ?? null) : (acceptedWhy?.trim() ?? null),
        };
        await putMark(connection, key, mark, account.name, now());
        await addRecord(connection, {
          who: account.name,
          kind: 'finding-marked',
          ...(found.subject.kind === 'person' ? { personId: found.subject.id } : {}),
          subject: found.subject.name,
          detail: found.says.slice(0, 2000),
          why: mark.acceptedWhy ?? '',
          ...(before ? { before: { ...before, by: undefined, at: undefined } } : {}),
          after: mark,
        });
      });
      const shown = (await shownFindings(services)).find((each) => each.key === key);
      return { body: { finding: shown ?? null } };
    },
  },
  {
    /** The changes by which a finding is put right, for a slate. */
    method: 'POST',
    path: '/api/findings/mend',
    roles: ['specialist'],
    handle: async ({ services: { store, now }, body }) => {
      const { key } = checkedBody<{ key: string }>(body, mendSchema);
      const found = (await findingsOf(store, now().getTime())).find((each) => each.key === key);
      if (!found?.mend) throw refusal(404, 'This finding is gone, or has no fix.');
      return { body: { says: found.mend.says, entries: found.mend.entries } };
    },
  },
];
