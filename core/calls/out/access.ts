import { DEFAULT_ACCESS, type AccessNumber, type E164, type Estate, type Person } from '../../estate';
import { scheduleHolds, type EstateIndex } from '../engine';
import { numberShown, type Shown } from './shown';
import { numberOutside, WANTED_WORDS, wanted } from './wanted';

/** Who calls an access number, as the call that comes in says it. */
export interface AccessCaller {
  /** E.164 or an extension; null: withheld. */
  readonly from: string | null;
  /** Whether the carrier has verified the number (SHAKEN; `verstat=TN-Validation-Passed`, 3GPP TS 24.229). */
  readonly isVerified: boolean;
  /** ms since 1970. */
  readonly atMs: number;
}

/** Where such a call stands. */
export interface AccessState {
  readonly asks: 'extension' | 'pin' | 'number';
  /** Who calls, as far as that is known. */
  readonly person: string | null;
  readonly extension: string | null;
  /** What was wrong so far: a third ends the call. */
  readonly faults: number;
}

export type AccessEnd = 'closed' | 'not-known' | 'faults' | 'locked' | 'emergency';
export type AccessTurn =
  | { readonly does: 'asks'; readonly state: AccessState; readonly says: string }
  /** A PIN was typed: whoever knows PINs is asked whether it is right. */
  | { readonly does: 'checks'; readonly state: AccessState; readonly typed: string }
  | {
      readonly does: 'calls';
      readonly state: AccessState;
      readonly person: Person;
      readonly number: E164;
      readonly trunk: string | null;
      readonly shown: Shown;
    }
  /** An extension, called as from the desk of whoever typed it. */
  | {
      readonly does: 'calls-in';
      readonly state: AccessState;
      readonly person: Person;
      readonly extension: string;
    }
  | { readonly does: 'ends'; readonly why: AccessEnd; readonly says: string };

const MOST_FAULTS = 3;
const TONE = 'The number, then the hash key.';
const ASKS: Readonly<Record<AccessState['asks'], string>> = {
  extension: 'Your extension, then the hash key.',
  pin: 'Your PIN, then the hash key.',
  number: TONE,
};

const asking = (state: AccessState, before = ''): AccessTurn => ({
  does: 'asks',
  state,
  says: `${before}${before ? ' ' : ''}${ASKS[state.asks]}`,
});
const ending = (why: AccessEnd, says: string): AccessTurn => ({ does: 'ends', why, says });

/** A fault: what was asked is asked again, until there were too many. */
function wrong(state: AccessState, says: string): AccessTurn {
  const faults = state.faults + 1;
  return faults >= MOST_FAULTS ? ending('faults', `${says} Goodbye.`) : asking({ ...state, faults }, says);
}

/** Whose mobile or landline a number is, or whose extension; null: nobody's, or that of more than one. */
function ownerOf({ people }: Estate, from: string): Person | null {
  const owners = people.filter(
    ({ endpoints, lines }) =>
      endpoints.some(({ number }) => number === from) || lines.some(({ extension }) => extension === from),
  );
  return owners.length === 1 ? owners[0]! : null;
}

/** Who is known by the number that they call from. */
export const knownCaller = (
  estate: Estate,
  { knows = DEFAULT_ACCESS.knows, onlyVerified = DEFAULT_ACCESS.onlyVerified }: AccessNumber,
  { from, isVerified }: Pick<AccessCaller, 'from' | 'isVerified'>,
): Person | null => {
  if (!knows || from === null) return null;
  // A call from inside was signed by its account.
  if (onlyVerified && from.startsWith('+') && !isVerified) return null;
  return ownerOf(estate, from);
};

/** What a call to an access number hears first. */
export function beginAccess(index: EstateIndex, access: AccessNumber, caller: AccessCaller): AccessTurn {
  const { schedule, pin = DEFAULT_ACCESS.pin } = access;
  if (schedule && !scheduleHolds(index, schedule, caller.atMs))
    return ending('closed', 'This number is closed now.');
  const known = knownCaller(index.estate, access, caller);
  const state = { person: known?.id ?? null, extension: null, faults: 0 };
  if (known) return asking({ ...state, asks: pin === 'always' ? 'pin' : 'number' });
  return pin === 'never'
    ? ending('not-known', 'This number is for staff, and yours is not known.')
    : asking({ ...state, asks: 'extension' });
}

/** What is said to what was typed. @param typed what came before the hash key or a pause */
export function accessTyped(
  index: EstateIndex,
  access: AccessNumber,
  state: AccessState,
  typed: string,
): AccessTurn {
  switch (state.asks) {
    case 'extension':
      return typed === ''
        ? wrong(state, 'Nothing was typed.')
        : asking({ ...state, asks: 'pin', extension: typed });
    case 'pin':
      return { does: 'checks', state, typed };
    case 'number':
      return numberTyped(index, access, state, typed);
  }
}

/** Whose PIN is to be checked: whoever is known by their number, else whoever has the extension. */
export const accessPerson = ({ people }: Estate, { person, extension }: AccessState): Person | null =>
  people.find(({ id, lines }) =>
    person !== null ? id === person : lines.some((line) => line.extension === extension),
  ) ?? null;

/** What is said to a PIN. Whether there is such an extension is told by nothing that is said. */
export function accessPin(
  { estate }: EstateIndex,
  state: AccessState,
  verdict: 'right' | 'wrong' | 'locked',
): AccessTurn {
  if (verdict === 'locked') return ending('locked', 'There were too many wrong PINs. Try again later.');
  const person = accessPerson(estate, state);
  if (verdict === 'right' && person) return asking({ ...state, person: person.id, asks: 'number' });
  const isKnown = state.person !== null;
  return wrong({ ...state, asks: isKnown ? 'pin' : 'extension' }, 'This is not right.');
}

/** What comes of a call to an access number, as it is computed. */
export interface AccessPredicted {
  readonly says: readonly string[];
  readonly calls: { readonly person: string; readonly number: E164; readonly shown: Shown } | null;
  /** Whose extension is called, by whom; null: none. */
  readonly callsIn: { readonly from: string | null; readonly to: string } | null;
  /** A PIN was typed, and was taken to be right. */
  readonly tookPin: boolean;
  /** Keys that nobody asked for any more. */
  readonly unheard: number;
}

/** By which extension somebody calls inside; null: they have none. */
export const ownExtension = ({ lines }: Pick<Person, 'lines'>): string | null => lines[0]?.extension ?? null;

/** Goes through a call to an access number. @param typed what is typed, one after the other; a PIN is taken to be right */
export function predictAccess(
  index: EstateIndex,
  access: AccessNumber,
  caller: AccessCaller,
  typed: readonly string[],
): AccessPredicted {
  const says: string[] = [];
  let tookPin = false;
  let turn = beginAccess(index, access, caller);
  let at = 0;
  for (;;) {
    if (turn.does === 'checks') {
      const isSomebody = accessPerson(index.estate, turn.state) !== null;
      tookPin ||= isSomebody;
      turn = accessPin(index, turn.state, isSomebody ? 'right' : 'wrong');
      continue;
    }
    const unheard = typed.length - at;
    if (turn.does === 'calls')
      return {
        says,
        calls: { person: turn.person.id, number: turn.number, shown: turn.shown },
        callsIn: null,
        tookPin,
        unheard,
      };
    if (turn.does === 'calls-in')
      return {
        says,
        calls: null,
        callsIn: { from: ownExtension(turn.person), to: turn.extension },
        tookPin,
        unheard,
      };
    says.push(turn.says);
    const next = typed[at];
    if (turn.does === 'ends' || next === undefined)
      return { says, calls: null, callsIn: null, tookPin, unheard };
    at += 1;
    turn = accessTyped(index, access, turn.state, next.slice(next.lastIndexOf('*') + 1));
  }
}

function numberTyped(
  { estate, people }: EstateIndex,
  access: AccessNumber,
  state: AccessState,
  typed: string,
): AccessTurn {
  const person = people.get(state.person ?? '');
  if (!person) return ending('not-known', 'This number is for staff, and yours is not known.');
  const read = numberOutside(estate, typed);
  if ('extension' in read) return { does: 'calls-in', state, person, extension: read.extension };
  const asked = wanted(estate, person, typed);
  if (!asked.ok) {
    const says = WANTED_WORDS[asked.why];
    return asked.why === 'emergency' ? ending('emergency', says) : wrong(state, says);
  }
  return {
    does: 'calls',
    state,
    person,
    number: asked.number,
    trunk: asked.trunk,
    shown: numberShown(estate, person, access.presents),
  };
}
