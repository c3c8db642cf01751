import type { RowDataPacket } from 'mysql2/promise';
import { COMPARED_FIELD_NAMES, compareTable, matchCompared, type ComparedField } from '../../core/formats';
import type { Queryable } from '../db';
import { refusal } from '../base';
import type { Route } from '../http';
import { readTableInPool } from '../reading';

const NAME = 'comparison-headings';

async function remembered(db: Queryable): Promise<Record<string, string>> {
  const [[row]] = await db.query<RowDataPacket[]>('SELECT body FROM remembered WHERE name = ?', [NAME]);
  return row ? (JSON.parse(String(row.body)) as Record<string, string>) : {};
}

/** The headings chosen for fields in the query: `columns=extension:Ext,name:Who`, each part URI-encoded. */
function chosenIn(text: string | undefined): Record<string, string> {
  if (!text) return {};
  return Object.fromEntries(
    text.split(',').flatMap((pair) => {
      const [field = '', heading = ''] = pair.split(':').map(decodeURIComponent);
      return Object.hasOwn(COMPARED_FIELD_NAMES, field) ? [[field, heading]] : [];
    }),
  );
}

export const comparisonRoutes: readonly Route[] = [
  {
    /** Holds a table of another phone system against the estate; writes nothing but how its headings were matched. */
    method: 'POST',
    path: '/api/comparison',
    roles: ['specialist'],
    rawBody: true,
    handle: async ({ services: { db, store }, body, query }) => {
      const read = await readTableInPool(body instanceof Uint8Array ? body : new Uint8Array());
      if (!read.ok && read.encoding === undefined)
        throw refusal(400, `This is no text: ${read.faults[0]?.message ?? ''}.`);
      if (!read.ok)
        throw refusal(400, 'This table cannot be read.', {
          faults: read.faults.map(({ line, message }) => ({ path: `line ${line}`, message })),
        });
      const { table } = read;
      const chosen = chosenIn(query.columns);
      const columns = matchCompared(table.headings, { ...(await remembered(db)), ...chosen });
      const matched = Object.fromEntries(
        Object.entries(columns).map(([field, at]) => [field, table.headings[at] ?? '']),
      ) as Partial<Record<ComparedField, string>>;
      if (Object.keys(chosen).length > 0)
        await db.query('REPLACE INTO remembered (name, body) VALUES (?, ?)', [NAME, JSON.stringify(matched)]);
      const known = { headings: table.headings, matched, names: COMPARED_FIELD_NAMES };
      if (columns.extension === undefined || columns.name === undefined)
        return { body: { ...known, comparison: null } };
      const { estate } = await store.current();
      return { body: { ...known, comparison: compareTable(estate, table, columns) } };
    },
  },
];
