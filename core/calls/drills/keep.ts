import { placeFor } from '../../editing';
import type { Person } from '../../estate';
import type { Call, Outcome } from '../engine';
import type { Drill, Expected, StandsFor } from './types';

/** How long after the time of the try an answer may come in the drill made of it, ms. */
const SLACK_MS = 2000;

/**
 * A drill made of a try: the same call, and its result as what is expected from now on. For a template the person's
 * phones become places.
 */
export function drillOf(
  made: Pick<Drill, 'id' | 'name' | 'standsFor'>,
  call: Call,
  outcome: Outcome,
  person: Person | null,
  status: string | null,
): Drill {
  const asPlace = (id: string) =>
    person && 'template' in made.standsFor ? (placeFor(person, id) ?? id) : id;
  const own = (id: string) => (isTemplate(made.standsFor) && id === person?.id ? 'own' : id);
  const { to: _to, world, ...rest } = call;
  const expect: Expected = {
    kind: outcome.kind,
    ...('person' in outcome && outcome.person !== undefined
      ? { person: outcome.person === person?.id ? 'own' : outcome.person }
      : {}),
    ...(outcome.kind === 'answered' ? { endpoint: asPlace(outcome.endpoint) } : {}),
    byMs: outcome.atMs + SLACK_MS,
  };
  return {
    ...made,
    call: {
      ...rest,
      ...(world
        ? {
            world: {
              ...world,
              ...(world.endpoints
                ? {
                    endpoints: Object.fromEntries(
                      Object.entries(world.endpoints).map(([id, does]) => [asPlace(id), does]),
                    ),
                  }
                : {}),
              ...(world.activeCalls
                ? {
                    activeCalls: Object.fromEntries(
                      Object.entries(world.activeCalls).map(([id, n]) => [own(id), n]),
                    ),
                  }
                : {}),
            },
          }
        : {}),
    },
    ...(status === null || status === person?.status ? {} : { status }),
    expect,
  };
}

const isTemplate = (standsFor: StandsFor) => 'template' in standsFor;
