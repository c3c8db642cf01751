import { organisationSetting } from '../../../estate';
import { ambiguities, extensionsOf } from '../../../calls/dialling';
import type { Check } from '../types';

export const dialPlanContradicts: Check = {
  id: 'dial-plan-contradicts',
  of: 'organisation',
  weight: 'risk',
  title: 'The dial plan contradicts itself',
  looksFor: 'Digits that can be an extension and the beginning of something else.',
  why: 'Which of the two is meant is decided by the system, not by who dials.',
  run: ({ estate, keep, partsMark }) => {
    const { dialling, groups, menus } = estate;
    const mark = partsMark('extensions', ({ lines }) => lines.map(({ extension }) => extension));
    // Every extension is read as what is dialled: that takes long for thousands, and few changes touch them.
    const found = keep('the dial plan', [dialling, groups, menus, mark], () =>
      ambiguities(dialling, [...extensionsOf(estate)]),
    );
    return found.map((each) => ({
      subject: { kind: 'organisation' as const, id: 'dialling', name: 'The dial plan' },
      detail: `${each.kind} ${each.example}`,
      says: each.text,
      evidence: [{ text: 'The dial plan', setting: organisationSetting('dialling') }],
    }));
  },
};
