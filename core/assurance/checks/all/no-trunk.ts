import { showNumber } from '../../../calls/dialling';
import { isOn, labelOf, targetsOf } from '../walk';
import type { Check } from '../types';

export const noTrunk: Check = {
  id: 'no-trunk',
  of: 'person',
  weight: 'fault',
  title: 'No trunk carries the outgoing leg',
  looksFor: 'Phones outside that a plan rings and whose class of number no trunk with channels carries.',
  why: 'The permission allows the call, and it fails all the same.',
  run: (person, context) => {
    const seen = new Set<string>();
    return targetsOf(person)
      .filter(isOn)
      .flatMap(({ target, setting }) => {
        const endpoint = context.endpoint(target.endpoint);
        if (!endpoint?.number || seen.has(endpoint.id)) return [];
        const why = context.noWayOut(context.permission(person.permission), endpoint.number);
        if (why !== 'no-route' && why !== 'no-channel') return [];
        seen.add(endpoint.id);
        return [
          {
            detail: endpoint.id,
            says: `The ${labelOf(endpoint)} (${showNumber(endpoint.number)}) never rings: no trunk with channels carries ${context.classOf(endpoint.number)} numbers.`,
            evidence: [{ text: 'Rung here', setting }],
          },
        ];
      });
  },
};
