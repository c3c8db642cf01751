import {
  complaintsOf,
  diagnose,
  isWayComplaint,
  wayCauses,
  wayComplaintsOf,
} from '../../core/assurance/diagnosis';
import { canBeHanded, leave, type Leaving } from '../../core/changes/leaver';
import { leaverStatuses } from '../../core/assurance/checks';
import { parts, type Estate, type Person } from '../../core/estate';
import { sliceFor, toldDifferences } from '../../core/editing';
import type { Db } from '../db';
import { sliceThen, type SliceThen } from '../estate';
import { readDrills } from '../drills';
import { checkedBody, type Route, type SignedIn } from '../http';
import { notRight, refusal, ROLES } from '../base';
import { readRunning } from '../restarts';
import { bareList, liveTable } from '../routing';

async function personOf({ services, params }: SignedIn) {
  const live = await services.store.current();
  const person = live.finder.person(params.id ?? '');
  if (!person) throw refusal(404, 'There is no such person.');
  return { live, person };
}

const AHEAD_MS = 366 * 86_400_000;

/** What calls for somebody could come to, as it was kept at a moment. @throws a refusal where there was no estate yet */
async function estateThen(db: Db, atMs: number, person: string): Promise<SliceThen> {
  const then = await sliceThen(db, atMs, person);
  if (!then) throw refusal(404, 'The estate was not here yet at that moment.');
  return then;
}

const leavingSchema = parts.closed({
  successor: parts.id().nullable(),
  stand: parts.id().nullable(),
  handLine: parts.flag(),
  handPhones: parts.flag(),
});

/** What is wrong with a person's calls, and how somebody leaves. */
export const diagnosisRoutes: readonly Route[] = [
  {
    method: 'GET',
    path: '/api/people/:id/diagnosis',
    roles: ROLES,
    handle: async (context) => {
      const { live, person: now } = await personOf(context);
      const { complaint, at } = context.query;
      const complaints = (estate: Estate, person: Person) => [
        ...complaintsOf(person),
        ...wayComplaintsOf(estate, person),
      ];
      if (!complaint)
        return { body: { complaints: complaints(live.estate, now), diagnosis: null, then: null } };
      const nowMs = context.services.now().getTime();
      const atMs = at === undefined ? nowMs : Number(at);
      if (!Number.isFinite(atMs) || atMs < 0 || atMs > nowMs + AHEAD_MS)
        throw refusal(400, 'This is no moment.');
      // A complaint about another hour is about the estate of then: its plans, hours and statuses.
      const isPast = at !== undefined && atMs < nowMs;
      const { whole: estate, slice } = isPast
        ? await estateThen(context.services.db, atMs, now.id)
        : { whole: live.estate, slice: sliceFor(live.estate, live.finder, now.id) };
      const person = isPast ? slice.people.find(({ id }) => id === now.id) : now;
      if (!person) throw refusal(404, `${now.name} was not here at that moment.`);
      // What phones ran then is not kept.
      const running = isPast ? [] : await readRunning(context.services.db);
      // What lies on a phone's way through networks needs no call to be seen.
      const ways = wayCauses(estate, person, complaint);
      const found = isWayComplaint(complaint)
        ? { complaint, causes: [], searched: 0 }
        : diagnose(slice, person.id, complaint, running, atMs);
      if (!found) throw refusal(404, 'There is no such complaint, or no line to call.');
      const causes = found.causes.map(({ findings, ...cause }) => ({
        ...cause,
        findings: findings.map(({ key, says, mend, weight }) => ({
          key,
          says,
          weight,
          mend: mend?.says ?? null,
        })),
      }));
      return {
        body: {
          complaints: complaints(estate, person),
          diagnosis: {
            complaint: found.complaint,
            searched: found.searched + ways.searched,
            causes: [
              ...ways.causes.map((cause) => ({
                ...cause,
                isSet: true,
                call: null,
                status: null,
                setting: null,
                findings: [],
              })),
              ...causes,
            ],
          },
          then: isPast
            ? {
                at: new Date(atMs).toISOString(),
                status: estate.statuses.find(({ id }) => id === person.status)?.name ?? person.status,
                changed: toldDifferences(person, now).length,
              }
            : null,
        },
      };
    },
  },
  {
    /** Everything that leads to a person who leaves, what would be done with it, and the changes for a slate. */
    method: 'POST',
    path: '/api/people/:id/leaving',
    roles: ['specialist'],
    handle: async (context) => {
      const given = checkedBody<Partial<Leaving>>(context.body, leavingSchema);
      const { live, person } = await personOf(context);
      const [status] = [...leaverStatuses(live.estate)].filter((id) =>
        live.estate.statuses.some((each) => each.id === id),
      );
      if (status === undefined)
        throw refusal(
          409,
          'No status of the organisation says that somebody has left. Add one with the id “left”.',
        );
      const result = leave(
        live.estate,
        {
          person: person.id,
          successor: given.successor ?? null,
          stand: given.stand ?? null,
          handLine: given.handLine ?? true,
          handPhones: given.handPhones ?? true,
          status,
        },
        await readDrills(context.services.db),
        (await liveTable(context.services.db)).lists.map(bareList),
      );
      if (!result) throw notRight([{ path: 'successor', message: 'there is no such person' }]);
      return { body: { ...result, phones: person.endpoints.filter(canBeHanded).map(({ label }) => label) } };
    },
  },
];
