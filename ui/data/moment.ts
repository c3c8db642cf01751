import { create } from 'zustand';
import { persist } from 'zustand/middleware';
import { tabStorage } from './tabStorage';
import type { Arrival, Person } from '../../core/estate';
import {
  ANY_INSIDE_CALLER,
  ANY_OUTSIDE_CALLER,
  type Call,
  type EndpointBehaviour,
  type Press,
  type SeatInCall,
} from '../../core/calls/engine';
import { forgetWithAccount } from './session';
import { instantOf } from '../../core/calls/time';

export type CallerChoice = 'outside' | 'inside' | 'withheld' | 'number';

/** The circumstances that a strip is drawn for. */
export interface Moment {
  /** ms since 1970 UTC; null: now. */
  readonly epochMs: number | null;
  /** A status other than the person's own, to see what it would do; null: the person's own. */
  readonly status: string | null;
  readonly caller: CallerChoice;
  readonly callerNumber: string;
  readonly behaviours: Readonly<Record<string, EndpointBehaviour>>;
  /** What the caller presses in an offer (`offer`) or a menu (its id). */
  readonly presses: Readonly<Record<string, Press>>;
  /** What the caller enters where a code is asked for, and how long after being asked; empty: nothing. */
  readonly code: string;
  readonly codeAfterMs: number;
  readonly engaged: boolean;
  /** Who else is engaged, with how many calls. */
  readonly othersEngaged: Readonly<Record<string, number>>;
  readonly arrival: Arrival;
  /** How long the caller waits, in ms; null: for ever. */
  readonly patienceMs: number | null;
  /** Which of the person's extensions is called; null: the first. */
  readonly to: string | null;
  /** Who of a group had its last call, and how long members have been idle, as in the world of a call. */
  readonly groupLast: Readonly<Record<string, number>>;
  readonly idleMs: Readonly<Record<string, number>>;
  /** Who is signed on to seats of groups, as in the world of a call. */
  readonly seats: Readonly<Record<string, SeatInCall>>;
}

export const PLAIN_MOMENT: Moment = {
  epochMs: null,
  status: null,
  caller: 'outside',
  callerNumber: '',
  behaviours: {},
  presses: {},
  code: '',
  codeAfterMs: 4000,
  engaged: false,
  othersEngaged: {},
  arrival: 'direct',
  patienceMs: null,
  to: null,
  groupLast: {},
  idleMs: {},
  seats: {},
};

interface MomentState {
  readonly moments: Readonly<Record<string, Moment>>;
  readonly set: (person: string, change: Partial<Moment>) => void;
  readonly behave: (person: string, endpoint: string, behaviour: EndpointBehaviour | null) => void;
}

/** The moment chosen on each person's page; it outlasts a reload of the tab. */
export const useMoments = create<MomentState>()(
  persist(
    (set) => ({
      moments: {},
      set: (person, change) =>
        set(({ moments }) => ({
          moments: { ...moments, [person]: { ...(moments[person] ?? PLAIN_MOMENT), ...change } },
        })),
      behave: (person, endpoint, behaviour) =>
        set(({ moments }) => {
          const moment = moments[person] ?? PLAIN_MOMENT;
          const { [endpoint]: _before, ...rest } = moment.behaviours;
          const behaviours = behaviour ? { ...rest, [endpoint]: behaviour } : rest;
          return { moments: { ...moments, [person]: { ...moment, behaviours } } };
        }),
    }),
    {
      name: 'hostler-moments-2',
      storage: tabStorage(),
    },
  ),
);

export const useMoment = (person: string): Moment =>
  useMoments((state) => state.moments[person] ?? PLAIN_MOMENT);

/** The moment that a call stands for, so that it can be looked at and tried. */
export function momentOf(call: Call, person: Person, status: string): Moment {
  const {
    endpoints = {},
    presses = {},
    code,
    activeCalls = {},
    groupLast = {},
    idleMs = {},
    seats = {},
  } = call.world ?? {};
  const { [person.id]: own, ...others } = activeCalls;
  const caller: CallerChoice =
    call.from === null
      ? 'withheld'
      : call.from === ANY_OUTSIDE_CALLER
        ? 'outside'
        : call.from === ANY_INSIDE_CALLER
          ? 'inside'
          : 'number';
  return {
    ...PLAIN_MOMENT,
    epochMs: instantOf(call.at),
    status: status === person.status ? null : status,
    caller,
    callerNumber: caller === 'number' ? (call.from ?? '') : '',
    behaviours: endpoints,
    presses,
    code: code?.digits ?? '',
    codeAfterMs: code?.afterMs ?? PLAIN_MOMENT.codeAfterMs,
    engaged: own !== undefined,
    othersEngaged: others,
    arrival: call.arrival ?? 'direct',
    patienceMs: call.patienceMs ?? null,
    to: person.lines.findIndex(({ extension }) => extension === call.to) > 0 ? call.to : null,
    groupLast,
    idleMs,
    seats,
  };
}

forgetWithAccount(() => useMoments.setState({ moments: {} }));
