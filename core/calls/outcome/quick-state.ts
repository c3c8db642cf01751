import type { Estate } from '../../estate';
import type { EstateIndex, OutcomeKind, Press, SeatInCall } from '../engine';
import {
  arrivalBit,
  compileQuick,
  type QuickEnding,
  type QuickEstate,
  type QuickGroup,
  type QuickTarget,
  type QuickTreatment,
} from './quick-compile';
import type { LegResult, QuickWorld } from './quick-leg';

export const NEVER = Infinity;
export const FORWARDED = arrivalBit('forwarded');
export const BY_MENU = arrivalBit('menu');
export const BY_GROUP = arrivalBit('group');

// How a part of a call came out: it goes on, the queue's time is over, the call has ended, no key was pressed, or an
// ending was chosen.
export const THROUGH = 0;
export const OVER = 1;
export const ENDED = 2;
export const NO_PRESS = 3;
export const ENDING = 4;

/** How one call came out: overwritten by the next. `person` and `endpoint` are places, -1: none. */
export interface QuickResult {
  kind: OutcomeKind;
  atMs: number;
  person: number;
  endpoint: number;
  reason: string;
  message: string;
}

/** What a queue goes round; null: nothing rings in it. */
export type Round = { readonly treatment: QuickTreatment } | { readonly group: QuickGroup } | null;

/** What the quick engine keeps of the call that it runs: one object for all calls, so that none is made while it runs. */
export interface QuickState {
  readonly index: EstateIndex;
  readonly estate: Estate;
  readonly settings: EstateIndex['settings'];
  readonly quick: QuickEstate;
  readonly world: QuickWorld;
  readonly result: QuickResult;
  readonly leg: LegResult;
  /** Whose each slot is, -1: nobody's; and how many channels each trunk has. */
  readonly owners: readonly number[];
  readonly channels: readonly number[];
  // What the call's world says of keys, codes, groups and idle people.
  presses: Readonly<Record<string, Press>> | undefined;
  code: { readonly digits: string; readonly afterMs: number } | undefined;
  groupLast: Readonly<Record<string, number>> | undefined;
  idleMs: Readonly<Record<string, number>> | undefined;
  seats: Readonly<Record<string, SeatInCall>> | undefined;
  /** Phones outside that seats are at in this call, by their ids. */
  readonly seatPhones: string[];
  // The call: who calls, when it began (ms since 1970), and in ms from then, how long the caller waits and how late it is.
  from: string | null;
  start: number;
  patience: number;
  now: number;
  queueEnd: number;
  named: boolean;
  arrival: number;
  hops: number;
  /** Which call it is; who has been asked in it. */
  visit: number;
  readonly askedIn: Float64Array;
  readonly groupIn: Float64Array;
  readonly menuIn: Float64Array;
  // The targets that take part in a stage, the first `parts` of them.
  readonly part: QuickTarget[];
  parts: number;
  // The legs of a stage that holds channels, for those that come after them.
  heldTrunk: Int32Array;
  heldUntil: Float64Array;
  heldCount: number;
  // The leg of a stage that connects first.
  bestMs: number;
  bestAtDialling: boolean;
  bestVoicemail: boolean;
  bestAt: number;
  stageOverMs: number;
  chosenEnding: QuickEnding;
  /** The order in which a group rings. */
  order: Int32Array;
  // Where the call goes next, -1: not there.
  atPerson: number;
  atGroup: number;
  atMenu: number;
  atLine: string;
  /** What a queue goes round, by whose ending it is. */
  readonly rounds: Map<QuickTreatment | QuickGroup, Round>;
}

export function newState(index: EstateIndex): QuickState {
  const quick = compileQuick(index);
  const { settings, estate } = index;
  // Slots for bare numbers are added as plans are made ready, so there is room for more of them.
  for (let i = 0; i < estate.people.length; i += 1) quick.person(i);
  for (let i = 0; i < estate.groups.length; i += 1) quick.group(i);
  for (let i = 0; i < estate.menus.length; i += 1) quick.menu(i);
  const size = quick.slots.length;
  return {
    index,
    estate,
    settings,
    quick,
    world: {
      state: new Uint8Array(size),
      setupMs: new Float64Array(size),
      answerAfterMs: new Float64Array(size),
      rejectAfterMs: new Float64Array(size),
      mailboxAfterMs: new Float64Array(size),
      offAnswerMs: new Float64Array(size),
      pressAfterMs: new Float64Array(size),
      refuseAfterMs: new Float64Array(size),
      activeCalls: new Float64Array(estate.people.length),
      trunkUse: new Float64Array(estate.trunks.length),
    },
    result: { kind: 'unanswered', atMs: 0, person: -1, endpoint: -1, reason: '', message: '' },
    leg: { connectMs: 0, byVoicemail: false, endMs: 0, word: 'no-answer' },
    owners: quick.slots.map(({ owner }) => (owner ? quick.personAt.get(owner.id)! : -1)),
    channels: estate.trunks.map((trunk) => trunk.channels),
    presses: undefined,
    code: undefined,
    groupLast: undefined,
    idleMs: undefined,
    seats: undefined,
    seatPhones: [],
    from: null,
    start: 0,
    patience: NEVER,
    now: 0,
    queueEnd: NEVER,
    named: false,
    arrival: 0,
    hops: 0,
    visit: 0,
    askedIn: new Float64Array(estate.people.length),
    groupIn: new Float64Array(estate.groups.length),
    menuIn: new Float64Array(estate.menus.length),
    part: [],
    parts: 0,
    heldTrunk: new Int32Array(16),
    heldUntil: new Float64Array(16),
    heldCount: 0,
    bestMs: NEVER,
    bestAtDialling: false,
    bestVoicemail: false,
    bestAt: -1,
    stageOverMs: 0,
    chosenEnding: { kind: 'gone' },
    order: new Int32Array(16),
    atPerson: -1,
    atGroup: -1,
    atMenu: -1,
    atLine: '',
    rounds: new Map(),
  };
}

export function end(
  state: QuickState,
  kind: OutcomeKind,
  person: number,
  endpoint: number,
  reason: string,
): number {
  state.result.kind = kind;
  state.result.atMs = state.now;
  state.result.person = person;
  state.result.endpoint = endpoint;
  state.result.reason = reason;
  return ENDED;
}

/** Waits; true if the caller hangs up meanwhile. */
export function wait(state: QuickState, untilMs: number): boolean {
  if (state.patience <= untilMs) {
    state.now = state.patience;
    end(state, 'abandoned', -1, -1, '');
    return true;
  }
  state.now = untilMs;
  return false;
}
