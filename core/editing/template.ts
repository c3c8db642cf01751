import { differences, type Difference } from './differences';
import {
  capital,
  isPlace,
  PLACE_KINDS,
  placeWords,
  type Place,
  type CodeStage,
  type Endpoint,
  type EndpointKind,
  type Ending,
  type Line,
  type OfferStage,
  type Person,
  type Plan,
  type RingTarget,
  type Rule,
  type SimpleEnding,
  type Stage,
  type Template,
  type Treatment,
  type When,
} from '../estate';

/** Something of a template that a person has no place for, and what became of it. */
export interface LeftOut {
  readonly place: string;
  /** The rule's name, or null for the last treatment. */
  readonly rule: string | null;
  readonly what: 'target' | 'condition' | 'rule' | 'ending';
}

interface Renaming {
  /** The new id, or null where there is none. */
  readonly endpoint: (id: string) => string | null;
  readonly line: (id: string) => string | null;
  /** Whose mailbox `mailbox` means when it names this person. */
  readonly self: string | null;
  readonly left: (what: LeftOut['what'], place: string, rule: string | null) => void;
}

function renamedSimple(ending: SimpleEnding, to: Renaming, rule: string | null): SimpleEnding {
  if (ending.kind === 'mailbox' && ending.person !== undefined && ending.person === to.self)
    return { kind: 'mailbox' };
  if (ending.kind !== 'endpoint') return ending;
  const endpoint = to.endpoint(ending.endpoint);
  if (endpoint !== null) return { ...ending, endpoint };
  to.left('ending', ending.endpoint, rule);
  return { kind: 'mailbox' };
}

const renamedEnding = (ending: Ending, to: Renaming, rule: string | null): Ending =>
  ending.kind === 'queue'
    ? { ...ending, then: renamedSimple(ending.then, to, rule) }
    : renamedSimple(ending, to, rule);

function renamedTarget(target: RingTarget, to: Renaming, rule: string | null): RingTarget[] {
  const endpoint = to.endpoint(target.endpoint);
  if (endpoint === null) {
    to.left('target', target.endpoint, rule);
    return [];
  }
  const { whileRegistered, unlessRegistered, ...rest } = target;
  const condition = (name: 'whileRegistered' | 'unlessRegistered', id: string | undefined) => {
    if (id === undefined) return {};
    const renamed = to.endpoint(id);
    if (renamed !== null) return { [name]: renamed };
    to.left('condition', id, rule);
    return {};
  };
  return [
    {
      ...rest,
      endpoint,
      ...condition('whileRegistered', whileRegistered),
      ...condition('unlessRegistered', unlessRegistered),
    },
  ];
}

function renamedStages(stages: readonly Stage[], to: Renaming, rule: string | null): Stage[] {
  return stages.flatMap((stage): Stage[] => {
    if ('ring' in stage) {
      const ring = stage.ring.flatMap((target) => renamedTarget(target, to, rule));
      // A stage in which nothing is left to ring would be a silence.
      return ring.length > 0 || stage.ring.length === 0 ? [{ ...stage, ring }] : [];
    }
    if ('offer' in stage) {
      const choices = stage.offer.choices.map((choice) =>
        choice.then === 'next' ? choice : { ...choice, then: renamedSimple(choice.then, to, rule) },
      );
      return [{ offer: { ...stage.offer, choices } } satisfies OfferStage];
    }
    const wrong = renamedSimple(stage.code.wrong, to, rule);
    return [{ code: { ...stage.code, wrong } } satisfies CodeStage];
  });
}

const renamedTreatment = <T extends Treatment>(treatment: T, to: Renaming, rule: string | null): T => ({
  ...treatment,
  stages: renamedStages(treatment.stages, to, rule),
  ending: renamedEnding(treatment.ending, to, rule),
  ...(treatment.busy === undefined ? {} : { busy: renamedEnding(treatment.busy, to, rule) }),
});

/** The rule's condition with its lines renamed; null if none of them is there, so that it can never hold. */
function renamedWhen(rule: Rule, to: Renaming): When | null {
  const { line, ...rest } = rule.when;
  if (line === undefined) return rule.when;
  const lines = line.flatMap((id) => to.line(id) ?? []);
  if (lines.length > 0) return { ...rest, line: lines };
  to.left('rule', line[0] ?? '', rule.name);
  return null;
}

function renamedPlan(plan: Plan, to: Renaming): Plan {
  return {
    rules: plan.rules.flatMap((rule) => {
      const when = renamedWhen(rule, to);
      return when ? [{ ...renamedTreatment(rule, to, rule.name), when }] : [];
    }),
    otherwise: renamedTreatment(plan.otherwise, to, null),
  };
}

/** The ids of a person's own endpoints and lines, each beside its place. */
function placesOf(person: Person): { endpoints: [string, string][]; lines: [string, string][] } {
  const seen = new Map<string, number>();
  return {
    endpoints: person.endpoints.map(({ id, kind }) => {
      const nth = (seen.get(kind) ?? 0) + 1;
      seen.set(kind, nth);
      return [id, `own:${kind}:${nth}`];
    }),
    lines: person.lines.map(({ id }, i) => [id, `own:line:${i + 1}`]),
  };
}

/** A person's plan with places for what is their own: the plan of a template. */
export function templatePlan(person: Person): Plan {
  const { endpoints, lines } = placesOf(person);
  const places = new Map(endpoints);
  const linePlaces = new Map(lines);
  return renamedPlan(person.plan, {
    endpoint: (id) => places.get(id) ?? id,
    line: (id) => linePlaces.get(id) ?? null,
    self: person.id,
    left: () => undefined,
  });
}

/** A template's plan for one person, and what of it that person has no place for. */
export interface Filled {
  readonly plan: Plan;
  readonly left: readonly LeftOut[];
}

/**
 * Fills a template's places with what a person has. A target without one is left out (with its stage, if nothing else
 * rings there), a rule for lines that are not there too; an ending there becomes the person's own mailbox.
 */
export function fillTemplate(plan: Plan, person: Person): Filled {
  const { endpoints, lines } = placesOf(person);
  const own = new Map(endpoints.map(([id, place]) => [place, id]));
  const ownLines = new Map(lines.map(([id, place]) => [place, id]));
  const left: LeftOut[] = [];
  const filled = renamedPlan(plan, {
    endpoint: (id) => (isPlace(id) ? (own.get(id) ?? null) : id),
    line: (id) => (isPlace(id) ? (ownLines.get(id) ?? null) : null),
    self: null,
    left: (what, place, rule) => left.push({ what, place, rule }),
  });
  return { plan: filled, left };
}

/** The person with the template's plan, from now on one who follows it. */
export const startFrom = (person: Person, template: Pick<Template, 'id' | 'plan'>): Person => ({
  ...person,
  plan: fillTemplate(template.plan, person).plan,
  template: template.id,
});

/** The person with a colleague's plan, made their own; the template that the colleague follows is followed too. */
export function startFromColleague(person: Person, colleague: Person): Person {
  const { template: _before, ...rest } = person;
  return {
    ...rest,
    plan: fillTemplate(templatePlan(colleague), person).plan,
    ...(colleague.template === undefined ? {} : { template: colleague.template }),
  };
}

/** Where a person's plan differs from the template as filled for them; empty if they follow it to the letter. */
export const departures = (template: Pick<Template, 'plan'>, person: Person): Difference[] =>
  differences(fillTemplate(template.plan, person).plan, person.plan);

/** A number that nobody has, in the shape of E.164, for a place that needs one to be drawn. */
const NO_NUMBER = '+10000000000';

/**
 * A person who has just what a template's places ask for, so that its plan can be put into words and edited like
 * anybody's. `edited` brings what was changed back: it is the person's plan.
 * @param base whatever a person needs besides: status, permission
 */
export function personOfTemplate(
  template: Template,
  base: Pick<Person, 'status' | 'permission' | 'maxCalls'>,
): Person {
  const text = JSON.stringify(template.plan);
  const counts = new Map<Place['kind'], number>([['line', 1]]);
  for (const kind of Object.keys(PLACE_KINDS) as Place['kind'][])
    counts.set(kind, Math.max(counts.get(kind) ?? 0, ['desk', 'mobile', 'line'].includes(kind) ? 1 : 0));
  for (const [, kind, nth] of text.matchAll(/"own:([a-z-]+):([1-9]\d?)"/g))
    counts.set(kind as Place['kind'], Math.max(counts.get(kind as Place['kind']) ?? 0, Number(nth)));
  const each = (kind: Place['kind']) =>
    Array.from({ length: counts.get(kind) ?? 0 }, (_, i) => `own:${kind}:${i + 1}`);
  const label = (id: string) => capital(placeWords(id));
  const lines = each('line').map((id): Line => ({ id, extension: '', numbers: [] }));
  const endpoints = (Object.keys(PLACE_KINDS) as Place['kind'][])
    .filter((kind): kind is EndpointKind => kind !== 'line')
    .flatMap((kind) =>
      each(kind).map((id): Endpoint => ({
        id,
        label: label(id),
        kind,
        ...(kind === 'mobile' || kind === 'landline' ? { number: NO_NUMBER } : {}),
        ...(kind === 'sip' ? { uri: 'sip:nobody@example.invalid' } : {}),
      })),
    );
  return { ...base, id: `own:${template.id}`, name: 'Somebody', lines, endpoints, plan: template.plan };
}

/** The id that a place stands for with one person; an id that is no place is itself. Null: the person has none. */
export function placeOf(person: Person, id: string): string | null {
  if (!isPlace(id)) return id;
  const { endpoints, lines } = placesOf(person);
  return [...endpoints, ...lines].find(([, place]) => place === id)?.[0] ?? null;
}

/** The place of one of a person's own endpoints or lines; null: it is not theirs. */
export function placeFor(person: Person, id: string): string | null {
  const { endpoints, lines } = placesOf(person);
  return [...endpoints, ...lines].find(([own]) => own === id)?.[1] ?? null;
}
