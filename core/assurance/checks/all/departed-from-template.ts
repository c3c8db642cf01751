import { settingOf } from '../../../estate';
import { departures, startFrom } from '../../../editing';
import { mendOf } from '../walk';
import type { Check } from '../types';

export const departedFromTemplate: Check = {
  id: 'departed-from-template',
  of: 'person',
  weight: 'note',
  title: 'Differs from the template',
  looksFor: 'People whose plan is not any more what the template that they follow gives them.',
  why: 'A change of the template will either pass them by or undo what was set for them.',
  run: (person, { estate }) => {
    const template = estate.templates?.find(({ id }) => id === person.template);
    const different = template ? departures(template, person) : [];
    if (!template || different.length === 0) return [];
    return [
      {
        says: `${different.length} ${different.length === 1 ? 'setting differs' : 'settings differ'} from the template “${template.name}”.`,
        evidence: [{ text: 'The plan', setting: settingOf('people', person.id, 'plan') }],
        mend: mendOf('Back to the template', 'person', person, startFrom(person, template)),
      },
    ];
  },
};
