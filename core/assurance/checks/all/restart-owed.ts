import { settingOf } from '../../../estate';
import { sayBehind, shouldRun } from '../../../changes/restarts';
import { labelOf } from '../walk';
import type { Check } from '../types';

export const restartOwed: Check = {
  id: 'restart-owed',
  of: 'person',
  weight: 'risk',
  title: 'Changed, and not restarted',
  looksFor: 'Phones that run something else than they should, because they take it up only at a restart.',
  why: 'Forgetting the restart is the commonest cause of “it does not work”.',
  run: (person, { behind }) =>
    person.endpoints.flatMap((endpoint) => {
      const row = behind.find((each) => each.endpoint === endpoint.id);
      const should = row ? shouldRun(person, endpoint) : null;
      if (!row || !should) return [];
      return [
        {
          detail: endpoint.id,
          says: `The ${labelOf(endpoint)} owes a restart: it ${sayBehind(row.running, should)}.`,
          evidence: [
            { text: endpoint.label, setting: settingOf('people', person.id, ['endpoints', endpoint.id]) },
          ],
        },
      ];
    }),
};
