import { switchEndpoint } from '../../../editing';
import { labelOf, isOn, mendOf, targetsOf } from '../walk';
import type { Check } from '../types';

export const neverSwitchedOn: Check = {
  id: 'never-switched-on',
  of: 'person',
  weight: 'risk',
  title: 'Set up, and switched off everywhere',
  looksFor: 'Phones outside that stand in the plan and are switched off wherever they do.',
  why: 'The number is set, so everybody believes that the mobile rings.',
  run: (person) =>
    person.endpoints.flatMap((endpoint) => {
      const places = targetsOf(person).filter(({ target }) => target.endpoint === endpoint.id);
      if (places.length === 0 || places.some(isOn)) return [];
      return [
        {
          detail: endpoint.id,
          says: `The ${labelOf(endpoint)} stands in the plan and is switched off ${places.length > 1 ? 'everywhere' : 'there'}.`,
          evidence: places.map(({ setting, where }) => ({ text: `Off in ${where}`, setting })),
          mend: mendOf('Switch it on', 'person', person, switchEndpoint(person, endpoint.id, true)),
        },
      ];
    }),
};
