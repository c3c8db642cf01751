import { differences } from '../../core/estate';
import { ROLES, type Route } from '../http/routes';
import { listRecord } from './queries';

const PAGE = 50;

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
];
