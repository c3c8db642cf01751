import { legEndText, NOT_DIALLED_ENDS, type Leg } from '../calls/engine';
import type { Ms } from '../estate';
import type { RecordedLeg } from './types';

/** Times that lie no further apart than this count as the same, ms: a phone system takes its time too. */
export const SAME_WITHIN_MS: Ms = 1500;

/** One leg as it should have gone beside one that went. */
export interface LegBeside {
  readonly endpoint: string;
  /**
   * `missing`: it should have been dialled and was not; `extra`: the other way round; `other-time`: dialled, or let
   * go of, at another time; `other-end`: it ended another way.
   */
  readonly how: 'same' | 'missing' | 'extra' | 'other-time' | 'other-end';
  readonly planned: Leg | null;
  readonly went: RecordedLeg | null;
}

/** Ends that say the same of a phone: how they are told apart differs between phone systems. */
const LIKE: readonly (readonly string[])[] = [
  ['no-answer', 'given-up', 'answered-elsewhere', 'caller-gone'],
  ['unregistered', 'unreachable'],
  ['rejected', 'do-not-disturb', 'busy'],
  ['connected'],
];
/** @param isOwn whether both are this model's own words, which must then be equal */
const isLike = (a: string, b: string, isOwn: boolean): boolean =>
  a === b || (!isOwn && LIKE.some((alike) => alike.includes(a) && alike.includes(b)));

/** A leg that was never dialled leaves no trace in most phone systems; here it does. */
const leavesTrace = ({ end, dialledMs, endMs }: Pick<Leg, 'end' | 'dialledMs' | 'endMs'>): boolean =>
  !(dialledMs === endMs && NOT_DIALLED_ENDS.includes(end));

const near = (a: Ms, b: Ms): boolean => Math.abs(a - b) <= SAME_WITHIN_MS;

/**
 * Lays the legs of a call as it should have gone beside those that went: the nth of an endpoint beside its nth.
 * @param isOwn whether the record was written here, in this model’s own words
 */
export function legsBeside(
  planned: readonly Leg[],
  went: readonly RecordedLeg[],
  isOwn: boolean,
): readonly LegBeside[] {
  const left = [...went];
  const beside: LegBeside[] = [];
  for (const leg of planned) {
    const at = left.findIndex(({ endpoint }) => endpoint === leg.endpoint);
    const [other] = at < 0 ? [] : left.splice(at, 1);
    if (!other) {
      if (isOwn || leavesTrace(leg))
        beside.push({ endpoint: leg.endpoint, how: 'missing', planned: leg, went: null });
      continue;
    }
    const how = !near(leg.dialledMs, other.dialledMs)
      ? 'other-time'
      : !isLike(leg.end, other.end, isOwn)
        ? 'other-end'
        : near(leg.endMs, other.endMs)
          ? 'same'
          : 'other-time';
    beside.push({ endpoint: leg.endpoint, how, planned: leg, went: other });
  }
  for (const other of left)
    beside.push({
      endpoint: other.endpoint,
      how: isOwn || leavesTrace(other) ? 'extra' : 'same',
      planned: null,
      went: other,
    });
  return beside.sort((a, b) => beganMs(a) - beganMs(b));
}

/** When a leg began, or should have. */
export const beganMs = ({ planned, went }: LegBeside): Ms =>
  Math.min(planned?.dialledMs ?? Infinity, went?.dialledMs ?? Infinity);

const seconds = (ms: Ms): string => (ms < 500 ? 'at once' : `after ${Math.round(ms / 1000)} s`);

/** What is different about a leg, in a few words. @param name what the phone is called, as it begins a sentence */
export function sayBeside({ how, planned, went }: LegBeside, name: string): string {
  if (how === 'missing') return `${name} was not dialled, and was to be ${seconds(planned!.dialledMs)}`;
  if (how === 'extra') return `${name} was dialled ${seconds(went!.dialledMs)}, and was not to be`;
  if (how === 'same') return `${name} rang as it was to`;
  if (how === 'other-end')
    return `${name}: “${legEndText(went!.end)}”, by the plan “${legEndText(planned!.end)}”`;
  return near(planned!.dialledMs, went!.dialledMs)
    ? `${name} was let go of ${seconds(went!.endMs)}, not ${seconds(planned!.endMs)}`
    : `${name} was dialled ${seconds(went!.dialledMs)}, not ${seconds(planned!.dialledMs)}`;
}
