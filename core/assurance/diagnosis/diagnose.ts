import { DateTime } from 'luxon';
import { auditPerson, checkContext, type Finding } from '../checks';
import type { SettingRef, Estate, Person } from '../../estate';
import {
  ANY_OUTSIDE_CALLER,
  compileEstate,
  outcomeText,
  runInDetail,
  type Call,
  type CallEvent,
  type World,
} from '../../calls/engine';
import type { Behind } from '../../changes/restarts';
import { isoIn } from '../../calls/time';
import { COMPLAINTS } from './complaints';
import { statesOf } from './states';
import { zoneNamed } from '../../zones';

/** Something that would produce what is complained of. */
export interface Cause {
  readonly id: string;
  /** How things would have to stand. */
  readonly says: string;
  /** Whether it is so as everything is set, so that each call shows it. */
  readonly isSet: boolean;
  /** A call that shows it, and the status that it is run with. */
  readonly call: Call;
  readonly status: string | null;
  /** The step of that call which decides, with the setting behind it. */
  readonly because: string;
  readonly setting: SettingRef | null;
  readonly tell: string;
  readonly mend: string;
  /** Findings that say the same, with mends of their own. */
  readonly findings: readonly Finding[];
}
export interface Diagnosis {
  readonly complaint: string;
  readonly causes: readonly Cause[];
  /** How many states were gone through. */
  readonly searched: number;
}

/** The complaints that can be those of a person, by what phones there are. */
export const complaintsOf = (person: Person): readonly { readonly id: string; readonly says: string }[] =>
  COMPLAINTS.filter((each) => each.fits(person)).map(({ id, says }) => ({ id, says }));

/** The step that decides: where a phone that is concerned drops out, or else how the call ends. */
function deciding(events: readonly CallEvent[], ids: readonly string[] | null): CallEvent | undefined {
  const find = (kinds: readonly CallEvent['kind'][], own: readonly string[] | null) =>
    events.find(
      ({ kind, endpoint }) =>
        kinds.includes(kind) && (own === null || (endpoint !== undefined && own.includes(endpoint))),
    );
  return (
    (ids ? find(['skipped', 'voicemail', 'leg-ended'], ids) : undefined) ??
    (ids ? find(['alerting'], ids) : undefined) ??
    find(['ending'], null) ??
    find(['rule'], null) ??
    events.at(-1)
  );
}

const merged = (a: World | undefined, b: World): World => ({
  ...a,
  ...b,
  endpoints: { ...a?.endpoints, ...b.endpoints },
});

/**
 * Searches what would produce a complaint: first how everything is set, then each state that things can be in, the
 * likeliest first. Each cause comes with a call that shows it.
 * @param slice what calls for the person can come to
 * @param behind phones that run something else than they should
 * @param atMs the moment, ms since 1970
 * @returns null where there is no such complaint, or nobody to call
 */
export function diagnose(
  slice: Estate,
  personId: string,
  complaintId: string,
  behind: readonly Behind[],
  atMs: number,
): Diagnosis | null {
  const complaint = COMPLAINTS.find(({ id }) => id === complaintId);
  const person = slice.people.find(({ id }) => id === personId);
  const to = person?.lines[0]?.extension;
  if (!complaint || !person || to === undefined) return null;
  const index = compileEstate(slice);
  const moment =
    complaint.hour === undefined
      ? atMs
      : DateTime.fromMillis(atMs, { zone: zoneNamed(slice.timeZone) })
          .set({ hour: complaint.hour, minute: 0 })
          .toMillis();
  const at = isoIn(moment, slice.timeZone);
  const given = complaint.world?.(person);
  const concerned = complaint.concerns?.(person) ?? null;
  const run = (world: World, status: string | null) => {
    const call: Call = { from: ANY_OUTSIDE_CALLER, to, at, world: merged(given, world) };
    const people = slice.people.map((each) =>
      each.id === personId && status !== null ? { ...each, status } : each,
    );
    const with_ = status === null ? index : compileEstate({ ...slice, people });
    const ran = runInDetail(with_, call);
    return complaint.shows(ran, person, with_) ? { call, trace: ran.trace, ran } : null;
  };
  const found = auditPerson(person, checkContext(slice, atMs)).filter(({ check }) =>
    complaint.checks.includes(check),
  );
  const causes: Cause[] = [];
  const asSet = run({}, null);
  for (const { id, says, endpoint, tell, mend } of (asSet && complaint.asSet?.(asSet.ran, person, index)) ??
    []) {
    if (!asSet) break;
    const event = deciding(asSet.trace.events, [endpoint]);
    causes.push({
      id,
      says,
      isSet: true,
      call: asSet.call,
      status: null,
      because: event?.text ?? outcomeText(index, asSet.trace.outcome),
      setting: event?.setting ?? null,
      tell,
      mend,
      findings: found,
    });
  }
  if (asSet && causes.length === 0) {
    const event = deciding(asSet.trace.events, concerned);
    causes.push({
      id: 'as-set',
      says: 'It is set so: every such call goes this way',
      isSet: true,
      call: asSet.call,
      status: null,
      because: event?.text ?? outcomeText(index, asSet.trace.outcome),
      setting: event?.setting ?? null,
      tell: 'Try a call: it shows each time.',
      mend: found.some(({ mend }) => mend) ? 'As below.' : 'Change the setting that the step names.',
      findings: found,
    });
  }
  const states = statesOf(person, index, behind);
  for (const state of states) {
    const shown = run(state.world, state.status);
    // What every call shows needs no state to be explained.
    if (!shown || (asSet && state.likely < 0.9)) continue;
    const event = deciding(shown.trace.events, concerned);
    causes.push({
      id: state.id,
      says: state.says,
      isSet: false,
      call: shown.call,
      status: state.status,
      because: event?.text ?? outcomeText(index, shown.trace.outcome),
      setting: event?.setting ?? null,
      tell: state.tell,
      mend: state.mend,
      findings: [],
    });
  }
  if (!asSet && causes.length > 0 && found.length > 0) causes[0] = { ...causes[0]!, findings: found };
  return { complaint: complaint.says, causes, searched: states.length + 1 };
}
