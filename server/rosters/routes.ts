import { DateTime } from 'luxon';
import type { RosterPreview } from '../../api/desks';
import { entriesBetween } from '../../core/changes/slate';
import { writeRosters, type RosterList } from '../../core/formats';
import { zoneNamed } from '../../core/zones';
import { refusal, ROLES } from '../base';
import { inTransaction } from '../db';
import type { Route, SignedIn } from '../http';
import { readRostersInPool } from '../reading';
import { addSlate, patchSlate, putEntries, slateEstate } from '../slates';

const MOST_BYTES = 4 << 20;
const MOST_SHOWN = 200;

/** A list of rosters that was sent, read beside the server: a table, or an iCalendar object. */
async function sentRosters({ services, body }: Pick<SignedIn, 'services' | 'body'>) {
  if (!(body instanceof Uint8Array) || body.length === 0) throw refusal(400, 'The list is empty.');
  const live = await slateEstate(services);
  const { estate } = live;
  const today =
    DateTime.fromMillis(services.now().getTime(), { zone: zoneNamed(estate.timeZone) }).toISODate() ?? '';
  const list = await readRostersInPool(body, estate, today);
  return { live, list };
}

const previewOf = (list: RosterList): RosterPreview => ({
  changed: list.people.slice(0, MOST_SHOWN).map(({ id, name }) => ({ id, name })),
  count: list.people.length,
  same: list.same,
  hours: list.schedules.map(({ name }) => name),
  faults: list.faults.slice(0, MOST_SHOWN),
});

export const rosterRoutes: readonly Route[] = [
  {
    /** All rosters as CSV, which can be read in again. */
    method: 'GET',
    path: '/api/rosters.csv',
    roles: ROLES,
    handle: async ({ services }) => ({
      text: writeRosters((await services.store.current()).estate),
      headers: {
        'Content-Type': 'text/csv; charset=utf-8',
        'Content-Disposition': 'attachment; filename="rosters.csv"',
      },
    }),
  },
  {
    /** What a list of rosters would change. Nothing is written. */
    method: 'POST',
    path: '/api/rosters/preview',
    roles: ['specialist'],
    rawBody: true,
    limit: MOST_BYTES,
    handle: async (context) => ({ body: previewOf((await sentRosters(context)).list) }),
  },
  {
    /** All that a list of rosters changes, on a slate of its own. */
    method: 'POST',
    path: '/api/rosters/import',
    roles: ['specialist'],
    rawBody: true,
    limit: MOST_BYTES,
    handle: async (context) => {
      const { services, account } = context;
      const { live, list } = await sentRosters(context);
      if (list.faults.length > 0)
        throw refusal(422, 'Some of this list cannot be read.', {
          extra: { placed: previewOf(list).faults },
        });
      const people = new Map(list.people.map((person) => [person.id, person]));
      const entries = entriesBetween(live.estate, {
        ...live.estate,
        schedules: [...live.estate.schedules, ...list.schedules],
        people: live.estate.people.map((person) => people.get(person.id) ?? person),
      });
      if (entries.length === 0) throw refusal(409, 'The list changes nothing.');
      const at = services.now();
      const slate = await inTransaction(services.db, async (tx) => {
        const id = await addSlate(tx, 'Rosters from a list', account.name, at);
        await patchSlate(tx, id, { note: `Rosters of ${list.people.length} people.` }, at);
        await putEntries(tx, id, entries, account.name, at);
        return id;
      });
      return { status: 201, body: { slate } };
    },
  },
];
