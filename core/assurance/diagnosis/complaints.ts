import type { EndpointKind, Ms, Person } from '../../estate';
import {
  longestSilence,
  type DetailedRun,
  type EstateIndex,
  type Leg,
  type Trace,
  type World,
} from '../../calls/engine';
import { showNumber } from '../../calls/dialling';

/** What somebody complains of, and how it shows in a call. */
export interface Complaint {
  readonly id: string;
  /** In the words of those who call the help desk. */
  readonly says: string;
  /** What happens in the call that is looked at, beside the state that is searched. */
  readonly world?: (person: Person) => World;
  /** At which hour the call is made, in the organisation's time; left out: now. */
  readonly hour?: number;
  /** Whether a call shows it. */
  readonly shows: (run: DetailedRun, person: Person, index: EstateIndex) => boolean;
  /** The phones whose steps decide; left out: how the call ends. */
  readonly concerns?: (person: Person) => readonly string[];
  /** Checks whose findings can be its cause, as things are set. */
  readonly checks: readonly string[];
  /** How things are set, where a sentence about it says more than the step of a call. */
  readonly asSet?: (run: DetailedRun, person: Person, index: EstateIndex) => readonly SetCause[];
}

/** One setting that a complaint may come from. */
export interface SetCause {
  readonly id: string;
  readonly says: string;
  /** The phone whose step of the call it is. */
  readonly endpoint: string;
  readonly tell: string;
  readonly mend: string;
}

const MOBILE: readonly EndpointKind[] = ['mobile'];
const APP: readonly EndpointKind[] = ['mobile-app', 'desktop-app'];
const DESK: readonly EndpointKind[] = ['desk', 'hot-desk'];

const ofKinds = (person: Person, kinds: readonly EndpointKind[]) =>
  person.endpoints.filter(({ kind }) => kinds.includes(kind));
const legsOf = (trace: Trace, ids: readonly string[]): readonly Leg[] =>
  trace.legs.filter(({ endpoint }) => ids.includes(endpoint));
/** Whether one of a person's phones of some kinds does not ring. */
const silent =
  (kinds: readonly EndpointKind[]) =>
  ({ trace }: DetailedRun, person: Person): boolean =>
    ofKinds(person, kinds).some(({ id }) => !legsOf(trace, [id]).some(({ alertMs }) => alertMs !== null));
const idsOf = (kinds: readonly EndpointKind[]) => (person: Person) =>
  ofKinds(person, kinds).map(({ id }) => id);
const outside = (person: Person) =>
  person.endpoints.filter(({ number }) => number !== undefined).map(({ id }) => id);
const has = (kinds: readonly EndpointKind[]) => (person: Person) => ofKinds(person, kinds).length > 0;

/** Which number each phone outside shows for a call, and whose it is. */
function numbersShown(run: DetailedRun, person: Person, index: EstateIndex): readonly SetCause[] {
  const shown = new Map<string, string>();
  for (const [at, { endpoint, alertMs }] of run.trace.legs.entries())
    if (alertMs !== null && outside(person).includes(endpoint) && !shown.has(endpoint))
      shown.set(endpoint, run.details[at]?.target.present ?? 'caller');
  return [...shown].map(([endpoint, present]): SetCause => {
    const label = person.endpoints.find(({ id }) => id === endpoint)?.label ?? endpoint;
    if (present === 'caller')
      return {
        id: `shows/${endpoint}`,
        says: `${label} is set to show the caller’s own number: another one was put there by a carrier on the way`,
        endpoint,
        tell: 'Call from a phone whose number is known, once to the work number and once to the phone itself. If only the first shows another number, the carrier of the trunk replaces it.',
        mend: 'Have the carrier pass callers’ numbers on over the trunk, or set a number of the organisation for this phone to show.',
      };
    const isOwn = person.lines.some(({ numbers }) => numbers.includes(present));
    const whose = isOwn
      ? `${person.name}’s direct number`
      : index.destinations.has(present)
        ? 'a number of the organisation'
        : 'no number of the organisation';
    return {
      id: `shows/${endpoint}`,
      says: `${label} is set to show ${showNumber(present)}, ${whose}, for each call`,
      endpoint,
      tell: 'Try a call: it shows each time, whoever calls.',
      mend: 'Choose “The caller’s own number” where this phone is rung, or another number to show.',
    };
  });
}

const ONE_RING_MS: Ms = 7000;
const SILENCE_MS: Ms = 8000;
const AT_ONCE_MS: Ms = 3000;
const TOO_LONG_MS: Ms = 60_000;
const QUICK_MS: Ms = 500;

export const COMPLAINTS: readonly (Complaint & { readonly fits: (person: Person) => boolean })[] = [
  {
    id: 'mobile-silent',
    says: 'My mobile does not ring',
    fits: has(MOBILE),
    shows: silent(MOBILE),
    concerns: idsOf(MOBILE),
    checks: [
      'no-permission-outside',
      'no-trunk',
      'bad-number',
      'never-switched-on',
      'never-rings',
      'forward-forgotten',
    ],
  },
  {
    id: 'rings-once',
    says: 'It rings once and stops',
    fits: (person) => person.endpoints.length > 0,
    shows: ({ trace }, person) =>
      legsOf(
        trace,
        person.endpoints.map(({ id }) => id),
      ).some(
        ({ alertMs, endMs, end }) =>
          alertMs !== null &&
          endMs - alertMs < ONE_RING_MS &&
          !['connected', 'answered-elsewhere', 'caller-gone'].includes(end),
      ),
    concerns: (person) => person.endpoints.map(({ id }) => id),
    checks: ['rings-too-short', 'app-asleep', 'guard-long', 'group-rings-too-short'],
  },
  {
    id: 'private-voicemail',
    says: 'My messages are in my mobile carrier’s voicemail',
    fits: (person) => person.endpoints.some(({ number }) => number !== undefined),
    shows: ({ trace: { outcome } }) => outcome.kind === 'carrier-voicemail',
    concerns: outside,
    checks: ['carrier-voicemail', 'guard-short', 'forward-to-voicemail', 'answers-by-itself'],
  },
  {
    id: 'cut-off',
    says: 'I answer the mobile and nobody is there',
    fits: (person) => person.endpoints.some(({ number }) => number !== undefined),
    world: (person) => ({
      endpoints: Object.fromEntries(
        person.endpoints.flatMap(({ id, number }) =>
          number === undefined ? [] : [[id, { answerAfterMs: QUICK_MS }]],
        ),
      ),
    }),
    shows: ({ trace: { legs } }) =>
      legs.some(({ end, alertMs }) => end === 'before-guard' && alertMs !== null),
    concerns: outside,
    checks: ['guard-long'],
  },
  {
    id: 'silence',
    says: 'Callers hear nothing for a long time',
    fits: () => true,
    shows: (run) => {
      const [from, to] = longestSilence(run);
      return to - from >= SILENCE_MS;
    },
    checks: ['waits-for-nobody', 'no-permission-outside', 'hot-desk-only'],
  },
  {
    id: 'night',
    says: 'It rings at night',
    fits: (person) =>
      person.endpoints.some(({ number, kind }) => number !== undefined || kind === 'mobile-app'),
    hour: 2,
    shows: ({ trace }, person) =>
      legsOf(
        trace,
        person.endpoints
          .filter(({ number, kind }) => number !== undefined || kind === 'mobile-app')
          .map(({ id }) => id),
      ).some(({ alertMs }) => alertMs !== null),
    concerns: outside,
    checks: ['outside-hours'],
  },
  {
    id: 'home-dead',
    says: 'The phone at home is dead after a minute',
    fits: has(['remote-desk']),
    shows: silent(['remote-desk']),
    concerns: idsOf(['remote-desk']),
    checks: ['never-rings'],
  },
  {
    id: 'desk-silent',
    says: 'My desk phone does not ring',
    fits: has(DESK),
    shows: silent(DESK),
    concerns: idsOf(DESK),
    checks: ['never-rings', 'never-switched-on', 'hot-desk-only', 'forward-forgotten'],
  },
  {
    id: 'app-silent',
    says: 'My softphone does not ring',
    fits: has(APP),
    shows: silent(APP),
    concerns: idsOf(APP),
    checks: ['app-asleep', 'never-rings', 'never-switched-on'],
  },
  {
    id: 'straight-to-mailbox',
    says: 'Calls go straight to the mailbox',
    fits: () => true,
    shows: ({ trace: { outcome } }) => outcome.kind === 'mailbox' && outcome.atMs <= AT_ONCE_MS,
    checks: ['forward-forgotten', 'hot-desk-only', 'rule-never-fires'],
  },
  {
    id: 'colleague',
    says: 'A colleague gets my calls or messages',
    fits: () => true,
    shows: ({ trace: { outcome } }, person) =>
      (outcome.kind === 'answered' || outcome.kind === 'mailbox') &&
      outcome.person !== undefined &&
      outcome.person !== person.id,
    checks: ['plan-for-phone', 'not-agreed', 'forward-forgotten', 'two-on-one-number'],
  },
  {
    id: 'too-long',
    says: 'It takes so long that callers hang up',
    fits: () => true,
    shows: ({ trace: { outcome } }) => outcome.atMs > TOO_LONG_MS,
    checks: ['long-ringing', 'waits-for-nobody'],
  },
  {
    id: 'lost',
    says: 'Callers can leave no message',
    fits: () => true,
    shows: ({ trace: { outcome } }) => ['unanswered', 'failed', 'loop'].includes(outcome.kind),
    checks: ['calls-lost', 'loop', 'mailbox-off', 'leads-to-leaver'],
  },
  {
    id: 'wrong-number',
    says: 'The wrong number shows on my mobile',
    fits: (person) => person.endpoints.some(({ number }) => number !== undefined),
    shows: ({ trace }, person) =>
      legsOf(
        trace,
        person.endpoints.filter(({ number }) => number !== undefined).map(({ id }) => id),
      ).some(({ alertMs }) => alertMs !== null),
    concerns: outside,
    checks: ['shows-foreign-number'],
    asSet: numbersShown,
  },
];
