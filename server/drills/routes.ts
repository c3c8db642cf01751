import { drillFaults, runDrill, runDrills, type Drill } from '../../core/calls/drills';
import { writeJUnit } from '../../core/formats';
import { parts } from '../../core/estate';
import { inTransaction } from '../db';
import type { LiveEstate } from '../estate';
import { checkedBody, type Route, type SignedIn } from '../http';
import { notRight, refusal, ROLES } from '../base';
import { addRecord } from '../record';
import { putDrill, readDrills, removeDrill } from './queries';
import type { DrillNow } from '../../api/findings';

const whomOf = ({ estate, finder }: LiveEstate, { standsFor }: Drill): string =>
  'person' in standsFor
    ? (finder.person(standsFor.person)?.name ?? standsFor.person)
    : 'group' in standsFor
      ? (finder.group(standsFor.group)?.name ?? standsFor.group)
      : 'menu' in standsFor
        ? (finder.menu(standsFor.menu)?.name ?? standsFor.menu)
        : `everybody of “${estate.templates?.find(({ id }) => id === standsFor.template)?.name ?? standsFor.template}”`;

const now = (live: LiveEstate, drill: Drill): DrillNow => {
  const results = runDrill(live.index, drill);
  return {
    drill,
    whom: whomOf(live, drill),
    ok: results.filter(({ ok, call }) => ok && call !== null).length,
    failed: results.filter(({ ok }) => !ok),
  };
};

const putSchema = parts.closed({ drill: parts.anything() });
const idOf = ({ params }: SignedIn) => params.id ?? '';

export const drillRoutes: readonly Route[] = [
  {
    method: 'GET',
    path: '/api/drills',
    roles: ROLES,
    handle: async ({ services: { db, store } }) => {
      const live = await store.current();
      return { body: { drills: (await readDrills(db)).map((drill) => now(live, drill)) } };
    },
  },
  {
    method: 'GET',
    path: '/api/drills/report',
    roles: ['specialist'],
    handle: async ({ services: { db, store }, query }) => {
      const live = await store.current();
      const drills = await readDrills(db);
      if (query.form === 'file')
        return {
          text: `${JSON.stringify({ format: 'hostler-drills/1', drills }, null, 1)}\n`,
          headers: {
            'Content-Type': 'application/json; charset=utf-8',
            'Content-Disposition': 'attachment; filename="drills.json"',
          },
        };
      const cases = runDrills(live.index, drills).map((each) => ({
        suite: each.name,
        name: each.for.name,
        failure: each.ok ? null : each.says,
      }));
      return {
        text: writeJUnit(`Drills of ${live.estate.name}`, cases),
        headers: {
          'Content-Type': 'application/xml; charset=utf-8',
          'Content-Disposition': 'attachment; filename="drills.xml"',
        },
      };
    },
  },
  {
    method: 'PUT',
    path: '/api/drills/:id',
    roles: ['specialist', 'help-desk'],
    handle: async (context) => {
      const { drill } = checkedBody<{ drill: Drill }>(context.body, putSchema);
      const faults = drillFaults(drill);
      if (faults.length > 0) throw notRight(faults);
      if (drill.id !== idOf(context)) throw notRight([{ path: 'id', message: 'cannot be changed' }]);
      const { db, store, now: clock } = context.services;
      await inTransaction(db, async (connection) => {
        const before = (await readDrills(connection)).find(({ id }) => id === drill.id);
        await putDrill(connection, drill, context.account.name, clock());
        await addRecord(connection, {
          who: context.account.name,
          kind: 'drill-kept',
          subject: drill.name,
          ...(before ? { before } : {}),
          after: drill,
        });
      });
      return { body: now(await store.current(), drill) };
    },
  },
  {
    method: 'DELETE',
    path: '/api/drills/:id',
    roles: ['specialist', 'help-desk'],
    handle: async (context) => {
      const { db } = context.services;
      await inTransaction(db, async (connection) => {
        const before = (await readDrills(connection)).find(({ id }) => id === idOf(context));
        if (!before) throw refusal(404, 'There is no such drill.');
        await removeDrill(connection, before.id);
        await addRecord(connection, {
          who: context.account.name,
          kind: 'drill-removed',
          subject: before.name,
          before,
        });
      });
      return { status: 204 };
    },
  },
];
