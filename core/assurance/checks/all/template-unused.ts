import { settingOf } from '../../../estate';
import type { Check } from '../types';

export const templateUnused: Check = {
  id: 'template-unused',
  of: 'organisation',
  weight: 'note',
  title: 'A template that nobody follows',
  looksFor: 'Templates without followers.',
  why: 'A change of it changes nobody, which is not what its name promises.',
  run: ({ estate, groupParts }) => {
    const followed = groupParts('template', ({ template }) => (template ? { keys: [template] } : null)).all;
    return (estate.templates ?? [])
      .filter(({ id }) => !followed.has(id))
      .map((template) => ({
        subject: { kind: 'template' as const, id: template.id, name: template.name },
        says: `Nobody follows “${template.name}”.`,
        evidence: [{ text: 'The template', setting: settingOf('templates', template.id) }],
      }));
  },
};
