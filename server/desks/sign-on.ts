import { leaverStatuses } from '../../core/assurance/checks';
import {
  deskEndpoint,
  dueOff,
  hotDeskOf,
  signOnRefusal,
  type SignOffReason,
  type SignOnRefusal,
  type SigningOn,
  type SignOnWay,
} from '../../core/desks';
import { settingsOf, type Desk, type Estate, type Person } from '../../core/estate';
import { scheduleClock, type ScheduleClock } from '../../core/calls/time';
import { COMES_BETWEEN, lookingAgain } from '../base';
import { inTransaction, type Tx } from '../db';
import type { LiveEstate } from '../estate';
import type { Services } from '../http';
import { addRecords, type NewRecord } from '../record';
import { endSignOn, insertSignOn, openAt, type DeskSignOn } from './queries';

type Needs = Pick<Services, 'db' | 'store' | 'now' | 'phones'>;

export interface Wanted {
  readonly desk: string;
  readonly person: string | undefined;
  readonly how: SignOnWay;
  readonly credential: SigningOn['credential'];
  readonly confirmed: boolean;
  /** Who is in the record as having done it. */
  readonly who: string;
}
export type SignedOn =
  | { readonly ok: true; readonly desk: Desk; readonly person: Person; readonly since: Date }
  | { readonly ok: false; readonly why: SignOnRefusal; readonly occupant: Person | null };

/** The site at which a desk's phone stands. */
export const siteOf = ({ sites = [], devices = [] }: Estate, { device }: Pick<Desk, 'device'>) => {
  const site = devices.find(({ id }) => id === device)?.site;
  return sites.find(({ id }) => id === site);
};

/** Whether a desk's phone has a call: it is then taken from nobody. */
export function isInCall(
  { phones }: Pick<Services, 'phones'>,
  { finder }: LiveEstate,
  at: DeskSignOn | null,
  desk: string,
): boolean {
  const person = at && finder.person(at.person);
  const endpoint = person ? hotDeskOf(person) : null;
  const inCalls = phones.inCalls();
  return inCalls.has(deskEndpoint(desk)) || (endpoint !== null && inCalls.has(endpoint));
}

function told(
  live: LiveEstate,
  kind: 'desk-sign-on' | 'desk-sign-off',
  on: { desk: string; person: string },
  who: string,
  detail: string,
): NewRecord {
  const person = live.finder.person(on.person)?.name ?? on.person;
  const desk = live.estate.desks?.find(({ id }) => id === on.desk)?.name ?? on.desk;
  return { who, kind, personId: on.person, subject: desk, detail: `${person}, ${detail}` };
}

/**
 * Signs somebody on at a shared desk, or says why not. They are signed off wherever else they are, and whoever is at
 * the desk is signed off, in the same transaction. It takes no lock of the estate: what keeps two from one desk is
 * that the database holds one open sign-on of each desk and each person, whichever server writes.
 */
export async function signOn(services: Needs, wanted: Wanted): Promise<SignedOn> {
  const live = await services.store.current();
  const desk = live.estate.desks?.find(({ id }) => id === wanted.desk);
  const person = wanted.person === undefined ? undefined : live.finder.person(wanted.person);
  const left = leaverStatuses(live.estate);
  return lookingAgain('Others are signing on at this desk at this moment. Try again.', async () => {
    const open = await openAt(services.db, wanted.desk, wanted.person ?? '');
    const here = open.find((each) => each.desk === wanted.desk) ?? null;
    const why = signOnRefusal({
      desk,
      person,
      credential: wanted.credential,
      hasLeft: person !== undefined && left.has(person.status),
      occupant: here?.person ?? null,
      confirmed: wanted.confirmed,
      inCall: isInCall(services, live, here, wanted.desk),
    });
    if (why !== null || !desk || !person)
      return {
        ok: false,
        why: why ?? 'no-such-desk',
        occupant: why === 'taken' && here ? (live.finder.person(here.person) ?? null) : null,
      };
    if (here?.person === person.id) return { ok: true, desk, person, since: here.since };
    const since = services.now();
    await inTransaction(services.db, async (tx) => {
      const records: NewRecord[] = [];
      for (const each of open) {
        const reason: SignOffReason = each.desk === desk.id ? 'taken-over' : 'elsewhere';
        if (!(await endSignOn(tx, each.id, since, reason))) throw COMES_BETWEEN;
        records.push(told(live, 'desk-sign-off', each, wanted.who, reason));
      }
      await insertSignOn(tx, {
        desk: desk.id,
        person: person.id,
        site: siteOf(live.estate, desk)?.id ?? null,
        since,
        how: wanted.how,
      });
      records.push(told(live, 'desk-sign-on', { desk: desk.id, person: person.id }, wanted.who, wanted.how));
      await addRecords(tx, records);
    });
    services.phones.signOnsChanged();
    return { ok: true, desk, person, since };
  });
}

/** Ends a sign-on once, whichever server does it. @returns whether it was this that ended it */
export async function signOff(
  services: Needs,
  on: DeskSignOn,
  why: SignOffReason,
  who: string,
  at: Date = services.now(),
): Promise<boolean> {
  const live = await services.store.current();
  return inTransaction(services.db, async (tx: Tx) => {
    if (!(await endSignOn(tx, on.id, at, why))) return false;
    await addRecords(tx, [told(live, 'desk-sign-off', on, who, why)]);
    return true;
  });
}

/** When and why each who is signed on is signed off by itself, as the estate is now. */
export function dueOf(
  live: LiveEstate,
): (on: DeskSignOn, nowMs: number) => { atMs: number; why: SignOffReason } | null {
  const { estate, finder } = live;
  const left = leaverStatuses(estate);
  const { graceS = 900 } = settingsOf(estate.settings).desks;
  const desks = new Map((estate.desks ?? []).map((desk) => [desk.id, desk]));
  const devices = new Map((estate.devices ?? []).map((device) => [device.id, device]));
  const sites = new Map((estate.sites ?? []).map((site) => [site.id, site]));
  const clocks = new Map<string, ScheduleClock | undefined>();
  const clockOf = (id: string) => {
    if (!clocks.has(id)) {
      const schedule = estate.schedules.find((each) => each.id === id);
      clocks.set(id, schedule && scheduleClock(schedule));
    }
    return clocks.get(id);
  };
  return (on, nowMs) => {
    const desk = desks.get(on.desk);
    const person = finder.person(on.person);
    if (!desk || !devices.has(desk.device)) return { atMs: nowMs, why: 'phone-gone' };
    if (!person || left.has(person.status)) return { atMs: nowMs, why: 'left' };
    const site = sites.get(devices.get(desk.device)?.site ?? '');
    return dueOff(
      desk,
      { sinceMs: on.since.getTime(), usedMs: on.usedAt.getTime() },
      { person, site: site?.id, timeZone: site?.timeZone ?? estate.timeZone, graceS, clockOf },
    );
  };
}
