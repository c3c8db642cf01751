import { settingOf } from '../../../estate';
import { ringWithFirstStage, carefulTarget } from '../../../editing';
import { labelOf, mendOf, targetsOf } from '../walk';
import type { Check } from '../types';

export const neverRings: Check = {
  id: 'never-rings',
  of: 'person',
  weight: 'risk',
  title: 'A phone that no rule rings',
  looksFor:
    'Phones of a person that stand in no step of the plan, so that line and phone are not tied together.',
  why: 'The phone is there and registered, and calls never come to it.',
  run: (person) => {
    const rung = new Set(targetsOf(person).map(({ target }) => target.endpoint));
    return person.endpoints
      .filter(({ id }) => !rung.has(id))
      .map((endpoint) => ({
        detail: endpoint.id,
        says: `The ${labelOf(endpoint)} stands nowhere in the plan: it never rings.`,
        evidence: [
          { text: endpoint.label, setting: settingOf('people', person.id, ['endpoints', endpoint.id]) },
        ],
        mend: mendOf(
          'Ring it with the first step',
          'person',
          person,
          ringWithFirstStage(
            person,
            endpoint.number ? carefulTarget(endpoint.id) : { endpoint: endpoint.id },
            'otherwise',
          ),
        ),
      }));
  },
};
