import type { Person } from '../../estate';
import { isoIn } from '../time';
import {
  type EstateIndex,
  endpointName,
  outcomeText,
  theEndpoint,
  ANY_OUTSIDE_CALLER,
  runCall,
  type Call,
  type EndpointBehaviour,
  type Leg,
  type World,
} from '../engine';
import { toneOf } from './strip';

export const REACH_STATES = ['reached', 'at-risk', 'lost'] as const;
export type ReachState = (typeof REACH_STATES)[number];

/** How well a person can be reached at a moment, why, and a call that shows it. */
export interface Judgement {
  readonly state: ReachState;
  readonly why: string;
  readonly call: Call | null;
}

/** A person who answers as soon as people do, after alerting begins. */
const QUICK_ANSWER_MS = 1000;

const WHY_NOT: Partial<Record<Leg['end'], string>> = {
  'bad-number': 'its number is none that can be called',
  'not-permitted': 'the permission does not allow its number',
  'no-route': 'no trunk carries its number',
};

/**
 * Judges how a person can be reached from outside at one moment: with nobody answering, with every mobile and
 * landline switched off or busy, and with each of them answered quickly.
 * @param epochMs ms since 1970-01-01T00:00:00Z
 */
export function judgeReach(index: EstateIndex, person: Person, epochMs: number): Judgement {
  const line = person.lines[0];
  if (!line) return { state: 'lost', why: 'Has no line that could be called.', call: null };
  const at = isoIn(epochMs, index.estate.timeZone);
  const callWith = (world: World): Call => ({ from: ANY_OUTSIDE_CALLER, to: line.extension, at, world });
  const plainCall = callWith({});
  const unanswered = runCall(index, plainCall);
  if (toneOf(unanswered.outcome) === 'lost')
    return { state: 'lost', why: outcomeText(index, unanswered.outcome), call: plainCall };

  for (const leg of unanswered.legs) {
    const why = WHY_NOT[leg.end];
    if (why)
      return {
        state: 'at-risk',
        why: `${endpointName(index, leg.endpoint, person.id)} never rings: ${why}.`,
        call: plainCall,
      };
  }
  const numbers = [...new Set(unanswered.legs.map((leg) => leg.endpoint))].filter(
    (id) => index.endpoints.get(id)?.number !== null,
  );
  const everyNumber = (behaviour: EndpointBehaviour): World => ({
    endpoints: Object.fromEntries(numbers.map((id) => [id, behaviour])),
  });
  const states = numbers.length ? (['off', 'busy'] as const) : [];
  for (const state of states) {
    const call = callWith(everyNumber({ state }));
    const { outcome } = runCall(index, call);
    if (toneOf(outcome) === 'lost')
      return { state: 'at-risk', why: `With the mobile ${state}: ${outcomeText(index, outcome)}`, call };
  }
  for (const id of numbers) {
    const call = callWith({ endpoints: { [id]: { answerAfterMs: QUICK_ANSWER_MS } } });
    const cut = runCall(index, call).legs.find((leg) => leg.endpoint === id && leg.end === 'before-guard');
    if (cut)
      return {
        state: 'at-risk',
        why: `The answer guard on ${theEndpoint(index, id, person.id)} cuts off whoever answers quickly.`,
        call,
      };
  }
  return { state: 'reached', why: outcomeText(index, unanswered.outcome), call: plainCall };
}
