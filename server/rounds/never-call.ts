import type { NeverCallPage } from '../../api/rounds';
import { readNumber } from '../../core/calls/dialling';
import { parts } from '../../core/estate';
import { notRight } from '../base';
import { inTransaction } from '../db';
import { checkedBody, type Route } from '../http';
import { addRecord } from '../record';
import { neverCallRows, putNeverCall, removeNeverCall } from './queries';

const MAY_CHANGE = ['specialist'] as const;
const MOST_NEVER = 500;
const neverBody = parts.closed<{ number: string; why: string }>({
  number: parts.requiredText(60),
  why: parts.text(200),
});

/** Numbers that no round ever calls. */
export const neverCallRoutes: readonly Route[] = [
  {
    method: 'GET',
    path: '/api/never-call',
    roles: MAY_CHANGE,
    handle: async ({ services }) => {
      const { rows, total } = await neverCallRows(services.db, MOST_NEVER);
      return {
        body: {
          numbers: rows.map((row) => ({ ...row, since: row.since.toISOString() })),
          total,
        } satisfies NeverCallPage,
      };
    },
  },
  {
    method: 'POST',
    path: '/api/never-call',
    roles: MAY_CHANGE,
    handle: async ({ services, account, body }) => {
      const { number, why } = checkedBody<{ number: string; why?: string }>(body, neverBody);
      const { estate } = await services.store.current();
      const read = readNumber(number, estate.dialling);
      if (!read.ok) throw notRight([{ path: 'number', message: read.reason }]);
      await inTransaction(services.db, async (tx) => {
        const isNew = await putNeverCall(tx, {
          number: read.e164,
          at: services.now(),
          who: account.name,
          why: why?.trim() ?? '',
        });
        if (isNew) await addRecord(tx, { who: account.name, kind: 'never-call-added', subject: read.e164 });
      });
      return { status: 201, body: { number: read.e164 } };
    },
  },
  {
    method: 'DELETE',
    path: '/api/never-call/:number',
    roles: MAY_CHANGE,
    handle: async ({ services, params, account }) => {
      const number = params.number ?? '';
      await inTransaction(services.db, async (tx) => {
        if (await removeNeverCall(tx, number))
          await addRecord(tx, { who: account.name, kind: 'never-call-removed', subject: number });
      });
      return { status: 204 };
    },
  },
];
