import { carrierTimes, adviseTimes } from '../../calls/views';
import { endpointName, compileEstate, type EstateIndex } from '../../calls/engine';
import { changeTargets } from '../../editing';
import type { Estate, Person, RingTarget } from '../../estate';
import { permits } from '../../calls/dialling';
import { provePromises, spreadFor } from './prove';
import type { ReachPromise, ProofScope } from './types';

/** A change of one person after which a promise holds. */
export interface Mend {
  readonly text: string;
  readonly person: Person;
  /** The promises that held before and then do not. */
  readonly breaks: readonly ReachPromise[];
}

interface Candidate {
  readonly text: string;
  readonly change: (person: Person) => Person;
}

/** Safe times at every mobile and landline that has a window for them; by key where there is none. */
function safeTimes(index: EstateIndex, spread: number): Candidate {
  return {
    text: 'Give every mobile and landline the times that are safe with its carrier',
    change: (person) =>
      changeTargets(person, (target) => {
        const known = index.endpoints.get(target.endpoint);
        const times = known ? carrierTimes(known.endpoint, spread) : null;
        if (!times || (target.confirm ?? 'none') !== 'none') return target;
        const { take } = adviseTimes(times);
        return take
          ? { ...target, acceptAfterMs: take.guardMs, giveUpAfterMs: take.giveUpMs }
          : byKey(target);
      }),
  };
}

const byKey = ({ acceptAfterMs: _guard, giveUpAfterMs: _giveUp, ...target }: RingTarget): RingTarget => ({
  ...target,
  confirm: 'key',
});
const isOutside = (index: EstateIndex, target: RingTarget) =>
  index.endpoints.get(target.endpoint)?.number !== null;

function candidates(promise: ReachPromise, index: EstateIndex, person: Person, spread: number): Candidate[] {
  const everyKey: Candidate = {
    text: 'Let whoever answers on a mobile or landline confirm with a key',
    change: (p) => changeTargets(p, (target) => (isOutside(index, target) ? byKey(target) : target)),
  };
  switch (promise.kind) {
    case 'no-carrier-voicemail':
    case 'no-cut-off':
      return [safeTimes(index, spread), everyKey];
    case 'only-inside':
      return [
        {
          text: `Let the mobile ring only inside “${index.schedules.get(promise.schedule)?.name ?? ''}”`,
          change: (p) =>
            changeTargets(p, (target) => {
              const kind = index.endpoints.get(target.endpoint)?.endpoint.kind;
              return kind === 'mobile' || kind === 'mobile-app'
                ? { ...target, schedule: { id: promise.schedule, inside: true } }
                : target;
            }),
        },
      ];
    case 'own-mailbox':
    case 'no-stranger':
      return [
        safeTimes(index, spread),
        ownMailbox,
        shorter(promise, person),
        both(ownMailbox, safeTimes(index, spread)),
      ].flatMap((c) => c ?? []);
    case 'wait-at-most':
      return [shorter(promise, person)].flatMap((c) => c ?? []);
    case 'may-dial':
      return wider(index, person);
    case 'no-leaver':
      return [
        {
          text: 'Switch off the phones of those who have left',
          change: (p) =>
            changeTargets(p, (target) =>
              index.endpoints.get(target.endpoint)?.owner?.status === promise.status
                ? { ...target, enabled: false }
                : target,
            ),
        },
      ];
    case 'no-loop':
      return [ownMailbox];
    case 'rings-within':
    case 'no-silence':
    case 'one-lost':
      return alsoRing(index, person);
  }
}

const both = (a: Candidate, b: Candidate): Candidate => ({
  text: `${a.text}; ${b.text.charAt(0).toLowerCase()}${b.text.slice(1)}`,
  change: (person) => b.change(a.change(person)),
});

const ownMailbox: Candidate = {
  text: 'End every rule in the person’s own mailbox',
  change: (person) => ({
    ...person,
    mailbox: { ...person.mailbox, enabled: true },
    plan: {
      rules: person.plan.rules.map(({ busy: _busy, ...rule }) => ({ ...rule, ending: { kind: 'mailbox' } })),
      otherwise: { stages: person.plan.otherwise.stages, ending: { kind: 'mailbox' } },
    },
  }),
};

/** Every ring stage shorter by the same share, so that the longest treatment fits. */
function shorter(promise: ReachPromise, person: Person): Candidate | null {
  const most =
    promise.kind === 'wait-at-most'
      ? promise.longestMs
      : promise.kind === 'own-mailbox'
        ? promise.withinMs
        : null;
  if (most === null) return null;
  const treatments = [...person.plan.rules, person.plan.otherwise];
  const longest = Math.max(
    ...treatments.map((t) => t.stages.reduce((sum, s) => sum + ('ring' in s ? s.forMs : 0), 0)),
  );
  // Confirmations and set-up come on top of what the stages say.
  const share = (most - 12_000) / longest;
  if (!(share > 0.2 && share < 1)) return null;
  const shorten = <T extends Person['plan']['otherwise']>(treatment: T): T => ({
    ...treatment,
    stages: treatment.stages.map((stage) =>
      'ring' in stage
        ? { ...stage, forMs: Math.max(1000, Math.floor((stage.forMs * share) / 1000) * 1000) }
        : stage,
    ),
  });
  return {
    text: `Let every step ring ${Math.round((1 - share) * 100)} % shorter`,
    change: (p) => ({
      ...p,
      plan: { rules: p.plan.rules.map(shorten), otherwise: shorten(p.plan.otherwise) },
    }),
  };
}

/** The permissions that allow every outside number of the person's plan, the narrowest first. */
function wider(index: EstateIndex, person: Person): Candidate[] {
  const numbers = [...person.plan.rules, person.plan.otherwise]
    .flatMap((t) => t.stages.flatMap((s) => ('ring' in s ? s.ring : [])))
    .flatMap((target) => index.endpoints.get(target.endpoint)?.number ?? []);
  return [...index.permissions.values()]
    .filter((permission) =>
      numbers.every((number) => {
        const numberClass = index.classOf(number);
        return numberClass !== 'bad-number' && permits(permission, number, numberClass);
      }),
    )
    .sort((a, b) => a.allow.length - b.allow.length)
    .map((permission) => ({
      text: `Give ${person.name} the permission “${permission.name}”`,
      change: (p) => ({ ...p, permission: permission.id }),
    }));
}

/** Another phone of the person beside the first stage. */
function alsoRing(index: EstateIndex, person: Person): Candidate[] {
  return person.endpoints.map((endpoint) => ({
    text: `Ring ${endpointName(index, endpoint.id, person.id)} from the start under every rule that rings`,
    change: (p: Person): Person => {
      const add = <T extends Person['plan']['otherwise']>(treatment: T): T => {
        const at = treatment.stages.findIndex((stage) => 'ring' in stage);
        return {
          ...treatment,
          stages: treatment.stages.map((stage, i) =>
            i !== at || !('ring' in stage) || stage.ring.some((t) => t.endpoint === endpoint.id)
              ? stage
              : { ...stage, ring: [...stage.ring, { endpoint: endpoint.id }] },
          ),
        };
      };
      return { ...p, plan: { rules: p.plan.rules.map(add), otherwise: add(p.plan.otherwise) } };
    },
  }));
}

/**
 * Looks for a change of the person's own settings after which a broken promise holds; best one that breaks none of
 * the promises that hold now. Each candidate is proved like anything else; null: none of them does it.
 */
export function findMend(
  slice: Estate,
  personId: string,
  broken: ReachPromise,
  others: readonly ReachPromise[],
  scope: ProofScope,
): Mend | null {
  const index = compileEstate(slice);
  const person = index.people.get(personId);
  if (!person) return null;
  const before = provePromises(slice, personId, others, scope);
  const held = others.filter((_, i) => before.proofs[i]?.holds);
  let best: Mend | null = null;
  for (const { text, change } of candidates(broken, index, person, spreadFor(broken, scope))) {
    const changed = change(person);
    const after = { ...slice, people: slice.people.map((each) => (each.id === personId ? changed : each)) };
    const { proofs, complete } = provePromises(after, personId, [broken, ...held], scope);
    if (!complete || !proofs[0]?.holds) continue;
    const breaks = proofs.slice(1).flatMap((proof) => (proof.holds ? [] : [proof.promise]));
    if (best === null || breaks.length < best.breaks.length) best = { text, person: changed, breaks };
    if (breaks.length === 0) break;
  }
  return best;
}
