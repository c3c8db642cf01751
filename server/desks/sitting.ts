import type {
  DeskPlace,
  DeskSitting,
  OwnDesks,
  OwnFreeDesk,
  OwnPlanDesk,
  PersonDesk,
  SittingPage,
} from '../../api/desks';
import { hotDeskOf, isAllowedAt, saySignOff, saySignOn, shiftsAt } from '../../core/desks';
import { scheduleClock } from '../../core/calls/time';
import type { Desk, Person } from '../../core/estate';
import type { LiveEstate } from '../estate';
import type { Services } from '../http';
import { openOf, openSignOns, signOnsAt, signOnsIn, type DeskSignOn } from './queries';
import { badgeSetAt } from './marks';
import { dueOf, siteOf } from './sign-on';

type Needs = Pick<Services, 'db' | 'store' | 'now'>;
export const DAY_MS = 86_400_000;
/** A moment this close to now is now. */
const NOW_MS = 60_000;

export const sittingOf = ({ finder }: LiveEstate, on: DeskSignOn): DeskSitting => ({
  person: on.person,
  name: finder.person(on.person)?.name ?? 'Somebody who is gone',
  since: on.since.toISOString(),
  how: saySignOn(on.how),
  ended: on.endedAt?.toISOString() ?? null,
  why: on.why === null ? null : saySignOff(on.why),
});

export function placeOf(
  live: LiveEstate,
  desk: Desk,
  on: DeskSignOn | undefined,
  nowMs: number | null,
): DeskPlace {
  const site = siteOf(live.estate, desk);
  const due = on && nowMs !== null ? dueOf(live)(on, nowMs) : null;
  return {
    id: desk.id,
    name: desk.name,
    site: site?.id ?? null,
    siteName: site?.name ?? 'Not said where',
    area: desk.area ?? null,
    spot: desk.spot ?? null,
    sitting: on ? sittingOf(live, on) : null,
    until: due ? new Date(due.atMs).toISOString() : null,
  };
}

/** Who sits where at a moment. @param at null: now */
export async function sittingAt(services: Needs, at: Date | null): Promise<SittingPage> {
  const live = await services.store.current();
  const now = services.now();
  const moment = at ?? now;
  const when =
    Math.abs(moment.getTime() - now.getTime()) <= NOW_MS ? 'now' : moment < now ? 'past' : 'to-come';
  const on =
    when === 'now'
      ? await openSignOns(services.db)
      : when === 'past'
        ? await signOnsAt(services.db, moment)
        : [];
  const byDesk = new Map(on.map((each) => [each.desk, each]));
  const due = dueOf(live);
  return {
    at: moment.toISOString(),
    when,
    desks: (live.estate.desks ?? []).map((desk) => {
      const here = byDesk.get(desk.id);
      const place = placeOf(live, desk, here, null);
      const until = here && when === 'now' ? due(here, now.getTime()) : null;
      return { ...place, until: until ? new Date(until.atMs).toISOString() : null };
    }),
    shifts: when === 'to-come' ? [] : shiftsThen(live, moment.getTime(), on),
    rostered: when === 'to-come' ? rosteredAt(live, moment.getTime()) : [],
  };
}

/** How many of each shift are at a desk of the site that their roster sends them to. */
function shiftsThen(live: LiveEstate, atMs: number, on: readonly DeskSignOn[]): SittingPage['shifts'] {
  const { estate } = live;
  const at = new Map(
    on.map(({ desk, person }) => {
      const known = estate.desks?.find(({ id }) => id === desk);
      return [person, known && siteOf(estate, known)?.id] as const;
    }),
  );
  return shiftsAt(estate, atMs).map(({ site, schedule, people }) => ({
    site,
    name: estate.schedules.find(({ id }) => id === schedule)?.name ?? schedule,
    expected: people.reduce((sum, { share }) => sum + share, 0),
    here: people.filter(({ person }) => at.get(person) === site).length,
  }));
}

/** Who is rostered at each site at a moment, with the largest share of theirs that covers it. */
function rosteredAt({ estate }: LiveEstate, atMs: number): SittingPage['rostered'] {
  const inside = new Map(
    estate.schedules.map((schedule) => [schedule.id, scheduleClock(schedule).inside(atMs)]),
  );
  return (estate.sites ?? []).flatMap(({ id, name }) => {
    const people = estate.people.flatMap((person) => {
      const shares = (person.roster ?? [])
        .filter((entry) => entry.site === id && inside.get(entry.schedule) === true)
        .map(({ share = 1 }) => share);
      return shares.length > 0 ? [{ id: person.id, name: person.name, share: Math.max(...shares) }] : [];
    });
    return people.length > 0 ? [{ site: id, name, people }] : [];
  });
}

const RECENT_DAYS = 30;
const MOST_BEFORE = 20;

async function nowOf(services: Needs, live: LiveEstate, person: string): Promise<PersonDesk['now']> {
  const on = await openOf(services.db, person);
  const desk = on && live.estate.desks?.find(({ id }) => id === on.desk);
  if (!on || !desk) return null;
  const place = placeOf(live, desk, on, services.now().getTime());
  return {
    desk: desk.id,
    name: desk.name,
    siteName: place.siteName,
    since: on.since.toISOString(),
    until: place.until,
  };
}

/** Where somebody is signed on, and was of late. */
export async function deskOfPerson(services: Needs, person: Person): Promise<PersonDesk> {
  const live = await services.store.current();
  const now = services.now();
  const recent = await signOnsIn(
    services.db,
    { person: person.id },
    new Date(now.getTime() - RECENT_DAYS * DAY_MS),
    new Date(now.getTime() + DAY_MS),
    MOST_BEFORE + 1,
  );
  return {
    hasHotDesk: hotDeskOf(person) !== null,
    now: await nowOf(services, live, person.id),
    before: recent
      .filter(({ endedAt }) => endedAt !== null)
      .slice(0, MOST_BEFORE)
      .map((each) => ({
        desk: each.desk,
        name: live.estate.desks?.find(({ id }) => id === each.desk)?.name ?? 'A desk that is gone',
        since: each.since.toISOString(),
        ended: each.endedAt!.toISOString(),
        why: each.why === null ? '' : saySignOff(each.why),
      })),
    badgeSetAt: (await badgeSetAt(services.db, person.id))?.toISOString() ?? null,
  };
}

const ASKS = { pin: 'pin', 'code-and-pin': 'code-and-pin', page: 'nothing', badge: 'pin' } as const;

/** What somebody's own page offers: the desks that they may sign on at. */
export async function ownDesks(services: Needs, person: Person): Promise<OwnDesks> {
  const live = await services.store.current();
  const hasHotDesk = hotDeskOf(person) !== null;
  const now = await nowOf(services, live, person.id);
  if (!hasHotDesk) return { hasHotDesk, now, free: [], others: [] };
  const byDesk = new Map((await openSignOns(services.db)).map((each) => [each.desk, each]));
  const free: OwnFreeDesk[] = [];
  const others: OwnDesks['others'][number][] = [];
  for (const [nth, desk] of (live.estate.desks ?? []).entries()) {
    const here = byDesk.get(desk.id);
    const drawn: OwnPlanDesk = {
      id: desk.id,
      name: desk.name,
      siteName: siteOf(live.estate, desk)?.name ?? 'Not said where',
      area: desk.area ?? null,
      spot: desk.spot ?? null,
      nth,
    };
    const isMine = here?.person === person.id;
    const isTaken = here !== undefined && (desk.taken === undefined || desk.taken === 'refuse');
    if (isMine || isTaken || !isAllowedAt(desk, person)) others.push({ ...drawn, isMine });
    else
      free.push({
        ...drawn,
        asks: ASKS[desk.credential ?? 'pin'],
        takenBy: here ? (live.finder.person(here.person)?.name ?? 'Somebody') : null,
      });
  }
  const sites = new Set([...free, ...others.filter(({ isMine }) => isMine)].map(({ siteName }) => siteName));
  return { hasHotDesk, now, free, others: others.filter(({ siteName }) => sites.has(siteName)) };
}
