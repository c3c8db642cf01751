import { DateTime } from 'luxon';
import type { PersonPage, SignedOnAt } from '../../api/people';
import { useMemo, useState } from 'react';
import { readNumber } from '../../core/calls/dialling';
import { awayBehaviours, hotDeskOf, isRostered } from '../../core/desks';
import { mergeSlices } from '../../core/editing';
import type { Estate, Person } from '../../core/estate';
import {
  ANY_INSIDE_CALLER,
  ANY_OUTSIDE_CALLER,
  compileEstate,
  type Call,
  type EstateIndex,
} from '../../core/calls/engine';
import { tryCall, type Tried } from '../../core/calls/views';
import { asRun } from '../../core/changes/restarts';
import { isoIn } from '../../core/calls/time';
import { zoneNamed } from '../../core/zones';
import { useMet } from './met';
import type { Moment } from './moment';
import { useSeatsNow } from './seats';
import { useRole } from './session';
import { useServerTry } from './data';

function callerOf(moment: Moment, estate: Estate): string | null {
  switch (moment.caller) {
    case 'outside':
      return ANY_OUTSIDE_CALLER;
    case 'inside':
      return ANY_INSIDE_CALLER;
    case 'withheld':
      return null;
    case 'number': {
      const text = moment.callerNumber.trim();
      if (/^\d+$/.test(text) && text.length === estate.dialling.extensionDigits) return text;
      const read = readNumber(text, estate.dialling);
      if (read.ok) return read.e164;
      // The beginning of numbers, as a rule names its callers, stands for any of them.
      return /^\+\d{1,15}$/.test(text) ? text : ANY_OUTSIDE_CALLER;
    }
  }
}

/** The call that a moment means for a person; null if the person has no line. */
export function callAt(moment: Moment, person: Person, estate: Estate, now: number): Call | null {
  const line = person.lines.find(({ extension }) => extension === moment.to) ?? person.lines[0];
  if (!line) return null;
  return {
    from: callerOf(moment, estate),
    to: line.extension,
    at: isoIn(moment.epochMs ?? now, estate.timeZone),
    ...(moment.arrival === 'direct' ? {} : { arrival: moment.arrival }),
    ...(moment.patienceMs === null ? {} : { patienceMs: moment.patienceMs }),
    world: {
      endpoints: moment.behaviours,
      presses: moment.presses,
      ...(moment.code === '' ? {} : { code: { digits: moment.code, afterMs: moment.codeAfterMs } }),
      activeCalls: {
        ...moment.othersEngaged,
        ...(moment.engaged ? { [person.id]: person.maxCalls } : {}),
      },
      ...(Object.keys(moment.groupLast).length > 0 ? { groupLast: moment.groupLast } : {}),
      ...(Object.keys(moment.idleMs).length > 0 ? { idleMs: moment.idleMs } : {}),
      ...(Object.keys(moment.seats).length > 0 ? { seats: moment.seats } : {}),
    },
  };
}

const inPlace = (estate: Estate, person: Person): Estate => ({
  ...estate,
  people: estate.people.map((each) => (each.id === person.id ? person : each)),
});

/** What is taken of somebody's shared desk, and by what; null: they have none. */
function deskSaid(
  person: Person,
  epochMs: number | null,
  at: SignedOnAt | undefined,
  isOn: (person: Person) => boolean,
  zone: string,
): string | null {
  if (hotDeskOf(person) === null) return null;
  if (epochMs === null) {
    if (!at) return 'Signed on at no shared desk now';
    return at.startsUntil === null
      ? `Signed on at ${at.desk} now`
      : `Signed on at ${at.desk} now; its phone restarts and rings nothing until about ${DateTime.fromISO(at.startsUntil, { zone: zoneNamed(zone) }).toFormat('HH:mm:ss')}`;
  }
  return isOn(person) ? 'By the roster: at a shared desk then' : 'By the roster: at no shared desk then';
}

export interface TriedAt {
  readonly index: EstateIndex;
  readonly call: Call | null;
  readonly tried: Tried | null;
  readonly now: number;
  /** What is taken of the person’s shared desk, in words; null: they have none. */
  readonly desk: string | null;
  /** The estate as it would be with the edits that are not live. */
  readonly slice: Estate;
}

/**
 * The call of a moment, run: in the browser, by the same core as on the server, where it has all numbers; else by the
 * server. Edits not yet live count.
 */
export function useTried(page: PersonPage, person: Person, moment: Moment): TriedAt {
  const isLocal = useRole() === 'specialist';
  const [now] = useState(() => Date.now());
  const asIf = useMemo(
    () => (moment.status === null ? person : { ...person, status: moment.status }),
    [person, moment.status],
  );
  const met = useMet((state) => state.part);
  const whole = useMemo(() => mergeSlices(page.slice, met), [page.slice, met]);
  const slice = useMemo(() => inPlace(whole, person), [whole, person]);
  const index = useMemo(() => compileEstate(inPlace(whole, asIf)), [whole, asIf]);
  const { epochMs } = moment;
  const atSeats = useSeatsNow(slice, isLocal && epochMs === null);
  const isOn = useMemo(
    () =>
      epochMs === null
        ? ({ id }: Person) => page.signedOn[id]?.startsUntil === null
        : (each: Person) => isRostered(each, index.estate, epochMs),
    [epochMs, page.signedOn, index.estate],
  );
  const call = useMemo(() => {
    const made = callAt(moment, asIf, page.slice, now);
    if (!made) return made;
    const away = awayBehaviours(index.estate.people, isOn);
    const seats = { ...atSeats, ...made.world?.seats };
    const isAtSeats = Object.keys(seats).length > 0;
    if (page.behind.length === 0 && Object.keys(away).length === 0 && !isAtSeats) return made;
    // A phone that was not restarted behaves as what it runs, unless the moment says what it does; a shared desk’s
    // phone is that of whoever is signed on.
    const owner = (id: string) => index.endpoints.get(id)?.owner ?? undefined;
    const endpoints = {
      ...asRun(page.behind, owner, made.to),
      ...away,
      ...made.world?.endpoints,
    };
    return { ...made, world: { ...made.world, endpoints, ...(isAtSeats ? { seats } : {}) } };
  }, [moment, asIf, page.slice, page.behind, index, now, isOn, atSeats]);
  const local = useMemo(
    () => (isLocal && call ? tryCall(index, call, person.id) : null),
    [isLocal, index, call, person.id],
  );
  const remote = useServerTry(call, person.id, page.version, !isLocal, epochMs === null);
  return {
    index,
    call,
    tried: isLocal ? local : (remote.data ?? null),
    now,
    slice,
    desk: deskSaid(person, epochMs, page.signedOn[person.id], isOn, index.estate.timeZone),
  };
}
