import {
  changeTargets,
  coverLines,
  editEndpoint,
  editStageTime,
  endCover,
  switchEndpoint,
  treatmentAt,
  changeTreatment,
  type TreatmentAt,
} from '../../editing';
import {
  isNumberKind,
  parts,
  type Estate,
  type Fault,
  type Ms,
  type Person,
  type RingTarget,
} from '../../estate';
import { mayDial, readNumber } from '../../calls/dialling';
import { isWithinLimit, type OwnLimits } from './limits';

/** Something that a person wants changed in how they are reached. */
export type Wish =
  | { readonly kind: 'status'; readonly status: string }
  /** Twinning: whether one of their phones rings with their calls. */
  | { readonly kind: 'twinning'; readonly endpoint: string; readonly on: boolean }
  /** The number of one of their phones of the public network, typed in any form. */
  | { readonly kind: 'number'; readonly endpoint: string; readonly number: string }
  | { readonly kind: 'ring-time'; readonly at: TreatmentAt; readonly stage: number; readonly forMs: Ms }
  /** The order in which stages follow each other, each by the place it has now. */
  | { readonly kind: 'sequence'; readonly at: TreatmentAt; readonly order: readonly number[] }
  /** When one of their phones rings: inside an hours object, or (null) always. */
  | { readonly kind: 'hours'; readonly endpoint: string; readonly schedule: string | null }
  | { readonly kind: 'cover'; readonly person: string; readonly until: string }
  | { readonly kind: 'cover-end' };
export type WishKind = Wish['kind'];

const { choose, closed, count, flag, instant, list, ms, oneOf, requiredId, requiredText, anything, text } =
  parts;
const at = () => text(120).required('is missing');
const SCHEMAS = {
  status: closed({ kind: requiredText(), status: requiredId() }),
  twinning: closed({ kind: requiredText(), endpoint: requiredId(), on: flag().required('is missing') }),
  number: closed({ kind: requiredText(), endpoint: requiredId(), number: requiredText(60) }),
  'ring-time': closed({
    kind: requiredText(),
    at: at(),
    stage: count(0).required('is missing'),
    forMs: ms(1).required('is missing'),
  }),
  sequence: closed({ kind: requiredText(), at: at(), order: list(count(0)).required('is missing') }),
  hours: closed({ kind: requiredText(), endpoint: requiredId(), schedule: text(120).nullable() }),
  cover: closed({ kind: requiredText(), person: requiredId(), until: instant().required('is missing') }),
  'cover-end': closed({ kind: requiredText() }),
} as const satisfies Record<WishKind, unknown>;
export const WISH_KINDS = Object.keys(SCHEMAS) as WishKind[];

/** The form of a wish. */
export const wishSchema = choose((value) => {
  const kind = parts.field(value, 'kind');
  const known = WISH_KINDS.find((each) => each === kind);
  return known ? SCHEMAS[known] : closed({ kind: oneOf(WISH_KINDS).required('is missing'), any: anything() });
});

/** What becomes of a wish: done at once, beyond the limits and so to be asked for, or not possible at all. */
export type Judged =
  | { readonly may: 'now'; readonly after: Person }
  | { readonly may: 'ask'; readonly after: Person; readonly why: string }
  | { readonly may: 'not'; readonly faults: readonly Fault[] };

const not = (path: string, message: string): Judged => ({ may: 'not', faults: [{ path, message }] });

/** All targets of a person's own plan that ring one endpoint, changed. */
const inTargets = (person: Person, endpoint: string, change: (target: RingTarget) => RingTarget): Person =>
  changeTargets(person, (target) => (target.endpoint === endpoint ? change(target) : target));

/**
 * Judges what a person wants changed in their own reach against what they may do themselves.
 * @param nowMs ms since 1970
 */
export function judgeWish(
  estate: Estate,
  person: Person,
  wish: Wish,
  limits: OwnLimits,
  nowMs: number,
): Judged {
  const within = (after: Person, why: string | null): Judged =>
    why === null ? { may: 'now', after } : { may: 'ask', after, why };
  const own = (id: string) => person.endpoints.find((each) => each.id === id);
  const unless = (allowed: boolean, why: string) => (allowed ? null : why);
  switch (wish.kind) {
    case 'status':
      if (!estate.statuses.some(({ id }) => id === wish.status)) return not('status', 'is no status of ours');
      return within({ ...person, status: wish.status }, unless(limits.status, 'Your status is set for you.'));
    case 'twinning':
      if (!own(wish.endpoint)) return not('endpoint', 'is no phone of yours');
      return within(
        switchEndpoint(person, wish.endpoint, wish.on),
        unless(limits.twinning, 'Your phones are switched for you.'),
      );
    case 'number':
      return judgeNumber(estate, person, wish, limits);
    case 'ring-time': {
      const stage = treatmentAt(person.plan, wish.at).stages[wish.stage];
      if (!stage || !('ring' in stage)) return not('stage', 'does not ring');
      return within(
        editStageTime(person, wish.at, wish.stage, wish.forMs),
        isWithinLimit(limits.ringMs, wish.forMs)
          ? null
          : `You may set ${limits.ringMs.least / 1000} to ${limits.ringMs.most / 1000} s yourself.`,
      );
    }
    case 'sequence': {
      const { stages } = treatmentAt(person.plan, wish.at);
      const places = [...wish.order].sort((a, b) => a - b);
      if (places.length !== stages.length || places.some((each, i) => each !== i))
        return not('order', 'must name each step once');
      const plan = changeTreatment(person.plan, wish.at, (treatment) => ({
        ...treatment,
        stages: wish.order.map((each) => stages[each]!),
      }));
      return within({ ...person, plan }, unless(limits.sequence, 'The order of your phones is set for you.'));
    }
    case 'hours': {
      if (!own(wish.endpoint)) return not('endpoint', 'is no phone of yours');
      const { schedule } = wish;
      if (schedule !== null && !estate.schedules.some(({ id }) => id === schedule))
        return not('schedule', 'are no hours of ours');
      const after = inTargets(person, wish.endpoint, ({ schedule: _before, ...target }) =>
        schedule === null ? target : { ...target, schedule: { id: schedule, inside: true } },
      );
      return within(after, unless(limits.hours, 'Your hours are set for you.'));
    }
    case 'cover': {
      const colleague = estate.people.find(({ id }) => id === wish.person);
      if (!colleague || colleague.id === person.id) return not('person', 'is no colleague');
      const until = Date.parse(wish.until);
      if (until <= nowMs) return not('until', 'must be a time to come');
      const after = coverLines(person, { kind: 'person', person: colleague.id }, wish.until, nowMs);
      const tooLong = until - nowMs > limits.coverMs;
      return within(
        after,
        limits.coverMs === 0
          ? 'Cover is set for you.'
          : tooLong
            ? `You may set cover for ${Math.round(limits.coverMs / 3_600_000)} hours at most.`
            : null,
      );
    }
    case 'cover-end':
      return within(endCover(person, nowMs), null);
  }
}

function judgeNumber(
  estate: Estate,
  person: Person,
  wish: Extract<Wish, { kind: 'number' }>,
  limits: OwnLimits,
): Judged {
  const endpoint = person.endpoints.find(({ id }) => id === wish.endpoint);
  if (!endpoint) return not('endpoint', 'is no phone of yours');
  if (!isNumberKind(endpoint.kind)) return not('endpoint', 'has no number of the public network');
  const read = readNumber(wish.number, estate.dialling);
  if (!read.ok) return not('number', 'is no number that can be called: give it with its area or country');
  const way = mayDial(person, read.e164, estate);
  if (!way.ok) return not('number', 'may not be dialled for you: your calls would never reach it');
  // Only what stands in the directory is told: whose private number it may be is nobody's business here.
  const isListed = estate.people.some(
    (each) => each.id !== person.id && each.lines.some(({ numbers }) => numbers.includes(read.e164)),
  );
  if (isListed) return not('number', 'is a number of the organisation: give one of your own');
  return {
    ...(limits.numbers.some((each) => each === way.class)
      ? { may: 'now' as const }
      : { may: 'ask' as const, why: 'A number of this kind is set for you.' }),
    after: editEndpoint(person, wish.endpoint, { number: read.e164 }),
  };
}
