import { placeOf, sliceFor, type Finder } from '../../editing';
import type { Person } from '../../estate';
import {
  compileEstate,
  endpointName,
  outcomeText,
  runCall,
  seconds,
  voicemailFor,
  type Call,
  type EstateIndex,
  type Outcome,
  type World,
} from '../engine';
import type { Drill, DrillResult, Expected } from './types';

type Whom = DrillResult['for'] & { readonly extension: string | undefined; readonly person: Person | null };

/** Those for whom a drill is run. */
function whomOf(index: EstateIndex, { standsFor }: Drill): readonly Whom[] {
  const { people, groups, menus } = index.estate;
  const of = (person: Person): Whom => ({
    kind: 'person',
    id: person.id,
    name: person.name,
    extension: person.lines[0]?.extension,
    person,
  });
  if ('person' in standsFor) return people.filter(({ id }) => id === standsFor.person).map(of);
  if ('template' in standsFor)
    return people.filter(({ template }) => template === standsFor.template).map(of);
  const [kind, list, id] =
    'group' in standsFor
      ? (['group', groups, standsFor.group] as const)
      : (['menu', menus, standsFor.menu] as const);
  return list
    .filter((each) => each.id === id)
    .map(({ name, extension }) => ({ kind, id, name, extension, person: null }));
}

/** A world in which places are the endpoints of one person, and `own` is that person. */
function worldFor(world: World | undefined, person: Person | null): World | undefined {
  if (!world || !person) return world;
  const { endpoints, activeCalls } = world;
  return {
    ...world,
    ...(endpoints
      ? {
          endpoints: Object.fromEntries(
            Object.entries(endpoints).flatMap(([id, does]) => {
              const own = placeOf(person, id);
              return own === null ? [] : [[own, does]];
            }),
          ),
        }
      : {}),
    ...(activeCalls
      ? {
          activeCalls: Object.fromEntries(
            Object.entries(activeCalls).map(([id, n]) => [id === 'own' ? person.id : id, n]),
          ),
        }
      : {}),
  };
}

const KINDS: Record<Expected['kind'], string> = {
  answered: 'answered',
  mailbox: 'voicemail',
  played: 'answered by a recording',
  'carrier-voicemail': 'in a mobile carrier’s voicemail',
  'hung-up': 'ended by the plan',
  abandoned: 'given up by the caller',
  unanswered: 'unanswered',
  loop: 'gone round',
  failed: 'failed',
};

/** What a drill expects, as a phrase: `answered at Ines's mobile within 12 s`. */
export function sayExpected(index: EstateIndex, expect: Expected, person: Person | null): string {
  const who = expect.person === 'own' ? person?.id : expect.person;
  const endpoint =
    expect.endpoint === undefined ? null : person ? placeOf(person, expect.endpoint) : expect.endpoint;
  const where = endpoint
    ? `answered at ${endpointName(index, endpoint)}`
    : who === undefined
      ? KINDS[expect.kind]
      : expect.kind === 'mailbox'
        ? voicemailFor(index, who)
        : `${KINDS[expect.kind]} (${index.people.get(who)?.name ?? who})`;
  const { fromMs, byMs } = expect;
  return [
    where,
    fromMs === undefined ? '' : `not before ${seconds(fromMs)}`,
    byMs === undefined ? '' : `within ${seconds(byMs)}`,
  ]
    .filter(Boolean)
    .join(', ');
}

function isAsExpected(outcome: Outcome, expect: Expected, person: Person | null): boolean {
  if (outcome.kind !== expect.kind) return false;
  const who = expect.person === 'own' ? person?.id : expect.person;
  if (who !== undefined && (!('person' in outcome) || outcome.person !== who)) return false;
  if (expect.endpoint !== undefined) {
    const endpoint = person ? placeOf(person, expect.endpoint) : expect.endpoint;
    if (!('endpoint' in outcome) || outcome.endpoint !== endpoint) return false;
  }
  return outcome.atMs >= (expect.fromMs ?? 0) && outcome.atMs <= (expect.byMs ?? Infinity);
}

/** What calls for one person can come to, with another status of the person where the drill stands for it. */
function indexWith(index: EstateIndex, person: Person | null, status: string | undefined): EstateIndex {
  if (!person || status === undefined || person.status === status) return index;
  const slice = sliceFor(index.estate, finderIn(index), person.id);
  const people = slice.people.map((each) => (each.id === person.id ? { ...each, status } : each));
  return { ...compileEstate({ ...slice, people }), classOf: index.classOf };
}

const finderIn = ({ people, endpoints, groups, menus }: EstateIndex): Finder => ({
  person: (id) => people.get(id),
  ownerOf: (id) => endpoints.get(id)?.owner ?? undefined,
  group: (id) => groups.get(id),
  menu: (id) => menus.get(id),
});

/** Runs one drill for everybody for whom it stands; one that stands for nobody fails. */
export function runDrill(index: EstateIndex, drill: Drill): readonly DrillResult[] {
  const whom = whomOf(index, drill);
  const base = { drill: drill.id, name: drill.name };
  if (whom.length === 0) {
    const [kind, id] = Object.entries(drill.standsFor)[0] as [string, string];
    const nobody =
      kind === 'template' ? `nobody follows the template “${id}”` : `there is no ${kind} “${id}”`;
    // A template that nobody follows yet breaks nothing.
    return [
      {
        ...base,
        for: { kind: kind === 'template' ? 'person' : (kind as 'person'), id, name: id },
        ok: kind === 'template',
        says: `Nothing to run: ${nobody}.`,
        call: null,
        outcome: null,
      },
    ];
  }
  return whom.map(({ extension, person, ...named }): DrillResult => {
    const expected = sayExpected(index, drill.expect, person);
    if (extension === undefined)
      return {
        ...base,
        for: named,
        ok: false,
        says: `Expected: ${expected}. There is no line to call.`,
        call: null,
        outcome: null,
      };
    const world = worldFor(drill.call.world, person);
    const call: Call = { ...drill.call, to: extension, ...(world ? { world } : {}) };
    const { outcome } = runCall(indexWith(index, person, drill.status), call);
    const ok = isAsExpected(outcome, drill.expect, person);
    const happened = outcomeText(index, outcome);
    return {
      ...base,
      for: named,
      ok,
      says: ok ? happened : `Expected: ${expected}. ${happened}`,
      call,
      outcome,
    };
  });
}

/** Runs all drills, in their order. */
export const runDrills = (index: EstateIndex, drills: readonly Drill[]): readonly DrillResult[] =>
  drills.flatMap((drill) => runDrill(index, drill));
