import { NO_WAY_OUT, readNumber, trunksFor, wayOut } from '../dialling';
import { settingsOf, type E164, type MoveTimes, type Ms, type Person } from '../../estate';
import {
  endpointName,
  outcomeText,
  runCall,
  seconds,
  type Call,
  type EndpointBehaviour,
  type EstateIndex,
  type KnownEndpoint,
  type Trace,
  isRegisteredAs,
} from '../engine';
import { isoIn, instantOf } from '../time';

/** What the caller hears. */
export type HeardByOther = 'speech' | 'music' | 'ringing' | 'nothing';

export type TalkState =
  | { readonly kind: 'talking'; readonly endpoint: string }
  | { readonly kind: 'held'; readonly from: string; readonly untilMs: Ms }
  | {
      readonly kind: 'sending';
      readonly from: string;
      readonly to: string;
      readonly alertMs: Ms | null;
      /** When it is decided, and how: it is answered there, or comes back. */
      readonly endMs: Ms;
      readonly answered: boolean;
      readonly why: string;
    }
  | {
      readonly kind: 'over';
      readonly how: 'hung-up' | 'caller-gone' | 'mailbox' | 'transferred' | 'lost';
    };

export type MoveAction =
  | { readonly kind: 'hang-up' }
  | { readonly kind: 'take-up'; readonly endpoint: string }
  | { readonly kind: 'send'; readonly to: string }
  | { readonly kind: 'digits'; readonly digits: string }
  | { readonly kind: 'caller-hangs-up' };

/** One step after the answer, in words; `hears` is what the caller hears from then on. */
export interface MoveStep {
  readonly atMs: Ms;
  readonly text: string;
  readonly hears: HeardByOther;
}

/** A call in progress: a value, from which each action and each wait makes the next. Times in ms since it arrived. */
export interface Move {
  readonly index: EstateIndex;
  readonly call: Call;
  readonly person: Person;
  readonly settings: MoveTimes;
  readonly atMs: Ms;
  readonly state: TalkState;
  readonly steps: readonly MoveStep[];
}

/** Events of telephone keys as RFC 4733 numbers them (section 3.2): 0 to 9, `*` 10, `#` 11, A to D 12 to 15. */
export const digitEvents = (digits: string): readonly number[] =>
  [...digits.toUpperCase()].flatMap((key) => {
    const event = '0123456789*#ABCD'.indexOf(key);
    return event < 0 ? [] : [event];
  });

/** A call just answered by a person; null if the trace ended otherwise, or at nobody's phone. */
export function beginMove(
  index: EstateIndex,
  call: Call,
  trace: Trace,
  settings: MoveTimes = settingsOf(index.estate.settings).move,
): Move | null {
  const { outcome } = trace;
  const person = outcome.kind === 'answered' && outcome.person ? index.people.get(outcome.person) : undefined;
  if (outcome.kind !== 'answered' || !person) return null;
  const text = `${endpointName(index, outcome.endpoint, person.id)} is answered: they talk.`;
  return {
    index,
    call,
    person,
    settings,
    atMs: outcome.atMs,
    state: { kind: 'talking', endpoint: outcome.endpoint },
    steps: [{ atMs: outcome.atMs, text, hears: 'speech' }],
  };
}

const behaviourOf = ({ call }: Move, id: string): EndpointBehaviour => call.world?.endpoints?.[id] ?? {};
const nameOf = ({ index, person }: Move, id: string) => endpointName(index, id, person.id);
const step = (move: Move, text: string, hears: HeardByOther, state: TalkState = move.state): Move => ({
  ...move,
  state,
  steps: [...move.steps, { atMs: move.atMs, text, hears }],
});
const over = (move: Move, how: Extract<TalkState, { kind: 'over' }>['how'], text: string): Move =>
  step(move, text, 'nothing', { kind: 'over', how });

/** Where a held call can be taken up: a phone or app that registers with the system. */
const takesUp = (move: Move, id: string): boolean => {
  const known = move.index.endpoints.get(id);
  return known !== undefined && known.number === null && known.endpoint.kind !== 'sip'
    ? isRegisteredAs(behaviourOf(move, id).state, known.times.wakes)
    : false;
};

/** Whether the person may and can be given an outside leg: why not, or null. The legs of the call itself count. */
function outsideFault(move: Move, number: E164): string | null {
  const { index, person, call } = move;
  const talking = move.state.kind === 'talking' ? index.endpoints.get(move.state.endpoint)?.number : null;
  const own = talking ? trunksFor(index.estate.trunks, numberClassOf(index, talking))[0]?.id : undefined;
  const way = wayOut(
    index.permissions.get(person.permission),
    number,
    index.classOf(number),
    index.estate.trunks,
    ({ id, channels }) => (call.world?.trunkUse?.[id] ?? 0) + (id === own ? 1 : 0) < channels,
  );
  return 'trunk' in way ? null : NO_WAY_OUT[way.reason];
}
const numberClassOf = (index: EstateIndex, number: E164) => {
  const found = index.classOf(number);
  return found === 'bad-number' ? 'national' : found;
};

/** What becomes of a call sent to a phone, counted from dialling; a phone of the public network accepts by key. */
function sent(
  move: Move,
  known: KnownEndpoint,
): { alertMs: Ms | null; endMs: Ms; answered: boolean; why: string } {
  const does = behaviourOf(move, known.endpoint.id);
  const { state = 'ready' } = does;
  const { times, number } = known;
  const { sendForMs } = move.settings;
  const { confirmWithinMs } = move.index.settings;
  const back = (endMs: Ms, why: string, alertMs: Ms | null = null) => ({
    alertMs,
    endMs,
    answered: false,
    why,
  });
  const fault = number === null ? null : outsideFault(move, number);
  if (fault) return back(0, fault);
  if (number === null && !isRegisteredAs(state, times.wakes)) return back(0, 'it is not registered');
  const waking = state === 'asleep' && known.endpoint.kind === 'mobile-app' ? times.wakeMs : 0;
  const readyMs = (does.setupMs ?? times.setupMs) + waking;
  if (state === 'off') return back(Math.min(sendForMs, readyMs), 'it is off or out of coverage');
  if (state === 'busy') return back(Math.min(sendForMs, readyMs), 'it is busy');
  if (state === 'do-not-disturb' && number === null) return back(readyMs, 'it is set to do not disturb');
  if (readyMs >= sendForMs) return back(sendForMs, 'nobody answers in time');
  const answers =
    state === 'auto-answer' ? 0 : state === 'do-not-disturb' ? null : (does.answerAfterMs ?? null);
  const answerMs = answers === null ? Infinity : readyMs + answers;
  const rejectMs = typeof does.rejectAfterMs === 'number' ? readyMs + does.rejectAfterMs : Infinity;
  const voicemail = does.mailboxAfterMs === undefined ? times.mailboxAfterMs : does.mailboxAfterMs;
  const voicemailMs = number === null || voicemail === null ? Infinity : readyMs + voicemail;
  const first = Math.min(answerMs, rejectMs, voicemailMs, sendForMs);
  if (first === answerMs && number === null)
    return { alertMs: readyMs, endMs: answerMs, answered: true, why: 'it is answered' };
  if (first === answerMs) {
    const press = does.pressAfterMs === undefined ? 3000 : does.pressAfterMs;
    return press !== null && press <= confirmWithinMs
      ? {
          alertMs: readyMs,
          endMs: answerMs + press,
          answered: true,
          why: 'it is answered and confirmed with a key',
        }
      : back(answerMs + confirmWithinMs, 'nobody pressed the key to accept', readyMs);
  }
  if (first === rejectMs) return back(rejectMs, 'it is rejected there', readyMs);
  if (first === voicemailMs)
    return back(
      voicemailMs + confirmWithinMs,
      "the mobile carrier's voicemail answers, and presses no key",
      readyMs,
    );
  return back(sendForMs, 'nobody answers in time', readyMs);
}

/** Lets time pass until a moment of the call: what is due by then happens, in its order. */
export function waitFor(move: Move, untilMs: Ms): Move {
  const { state } = move;
  if (state.kind === 'sending') {
    if (state.alertMs !== null && move.atMs < state.alertMs && state.alertMs <= untilMs) {
      const at = { ...move, atMs: state.alertMs };
      return waitFor(step(at, `${nameOf(move, state.to)} begins to ring.`, 'ringing'), untilMs);
    }
    if (state.endMs <= untilMs) {
      const at = { ...move, atMs: state.endMs };
      const to = nameOf(move, state.to);
      const after = state.answered
        ? step(at, `${to} takes the call: ${state.why}. ${nameOf(move, state.from)} is released.`, 'speech', {
            kind: 'talking',
            endpoint: state.to,
          })
        : step(at, `The call comes back to ${nameOf(move, state.from)}: ${state.why}.`, 'speech', {
            kind: 'talking',
            endpoint: state.from,
          });
      return waitFor(after, untilMs);
    }
  }
  if (state.kind === 'held' && state.untilMs <= untilMs) {
    const at = { ...move, atMs: state.untilMs };
    return move.person.mailbox?.enabled === false
      ? over(at, 'lost', 'Nobody takes it up in time, and there is no mailbox: the call is ended.')
      : over(
          at,
          'mailbox',
          `Nobody takes it up in time: the caller is led to ${move.person.name}'s mailbox.`,
        );
  }
  return state.kind === 'over' ? move : { ...move, atMs: Math.max(move.atMs, untilMs) };
}

const refuse = (move: Move, why: string): Move =>
  step(move, why, move.state.kind === 'held' ? 'music' : 'speech');

function send(move: Move, to: string): Move {
  const { state } = move;
  const known = move.index.endpoints.get(to);
  if (state.kind !== 'talking')
    return refuse(move, 'Only a call that is being talked on can be sent elsewhere.');
  if (!known || to === state.endpoint) return refuse(move, 'There is no other phone to send it to.');
  const { alertMs, endMs, answered, why } = sent(move, known);
  return step(move, `The call is sent to ${nameOf(move, to)}; the caller waits.`, 'music', {
    kind: 'sending',
    from: state.endpoint,
    to,
    alertMs: alertMs === null ? null : move.atMs + alertMs,
    endMs: move.atMs + endMs,
    answered,
    why,
  });
}

/** A transfer without asking first: to an extension of the organisation, or to an outside number that may be called. */
function transfer(move: Move, text: string): Move {
  const { index, call } = move;
  if (index.destinations.has(text)) {
    const at = isoIn((instantOf(call.at) ?? 0) + move.atMs, index.estate.timeZone);
    const { outcome } = runCall(index, { ...call, to: text, at, arrival: 'forwarded' });
    return over(move, 'transferred', `Transferred to ${text}. ${outcomeText(index, outcome)}`);
  }
  const read = readNumber(text, index.estate.dialling);
  const fault = read.ok ? outsideFault(move, read.e164) : read.reason;
  return fault
    ? refuse(move, `The transfer to ${text || 'nothing'} does not go: ${fault}. They go on talking.`)
    : over(move, 'transferred', `Transferred to ${text}: the trunk carries both legs until one hangs up.`);
}

function digits(move: Move, keys: string): Move {
  const { state, settings, person, index } = move;
  if (state.kind !== 'talking') return refuse(move, 'Keys count only while somebody talks.');
  const told = step(move, `Keys ${keys} (events ${digitEvents(keys).join(', ')}).`, 'speech');
  if (index.endpoints.get(state.endpoint)?.number === null)
    return refuse(
      told,
      'At a phone of the system keys are passed on to the caller; its own keys move calls.',
    );
  const { toDesk, transfer: away } = settings;
  if (keys === toDesk) {
    const desk = person.endpoints.find(({ id }) => id !== state.endpoint && takesUp(move, id));
    return desk ? send(told, desk.id) : refuse(told, 'No phone of the person is registered to send it to.');
  }
  if (keys.startsWith(away)) return transfer(told, keys.slice(away.length).replace(/#$/, ''));
  return refuse(told, 'These keys are no code; they are passed on to the caller.');
}

/**
 * What somebody does with the call at a moment; whatever is due before happens first.
 * @param atMs ms since the call arrived, not before what has happened already
 */
export function actOn(move: Move, atMs: Ms, action: MoveAction): Move {
  const now = waitFor(move, Math.max(atMs, move.atMs));
  const { state } = now;
  if (state.kind === 'over') return now;
  switch (action.kind) {
    case 'caller-hangs-up':
      return over(now, 'caller-gone', 'The caller hangs up.');
    case 'hang-up': {
      if (state.kind !== 'talking') return refuse(now, 'Nobody is talking who could hang up.');
      const { heldMs } = now.settings;
      if (heldMs === 0)
        return over(now, 'hung-up', `${nameOf(now, state.endpoint)} hangs up: the call is over.`);
      return step(
        now,
        `${nameOf(now, state.endpoint)} hangs up: the call is held for ${seconds(heldMs)}, to be taken up elsewhere.`,
        'music',
        { kind: 'held', from: state.endpoint, untilMs: now.atMs + heldMs },
      );
    }
    case 'take-up': {
      const name = nameOf(now, action.endpoint);
      if (state.kind !== 'held') return refuse(now, 'No call is held.');
      if (!now.person.endpoints.some(({ id }) => id === action.endpoint) || !takesUp(now, action.endpoint))
        return refuse(now, `${name} cannot take it up: it is not a registered phone of ${now.person.name}.`);
      return step(now, `Taken up at ${name}: they talk on.`, 'speech', {
        kind: 'talking',
        endpoint: action.endpoint,
      });
    }
    case 'send':
      return send(now, action.to);
    case 'digits':
      return digits(now, action.digits);
  }
}
