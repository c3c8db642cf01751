import { insideOf, innerOf } from '../../../estate';
import { shortName } from '../../../calls/engine';
import { endingsOfPerson, treatmentsOf } from '../walk';
import type { Check } from '../types';

export const planForPhone: Check = {
  id: 'plan-for-phone',
  of: 'person',
  weight: 'risk',
  title: 'A colleague’s plan used where their phone may be meant',
  looksFor:
    'Unanswered calls handed to a colleague’s own plan, so that the message ends in the colleague’s mailbox.',
  why: 'Ringing a colleague’s phone keeps the message here; handing the call over gives it away. The two are often confused.',
  run: (person, context) => {
    const rung = new Set(
      treatmentsOf(person)
        .filter(({ treatment }) => treatment.stages.length > 0)
        .map(({ setting }) => innerOf(setting, 'ending')),
    );
    return endingsOfPerson(person).flatMap(({ ending, setting, where }) => {
      if (ending.kind !== 'person' || ending.agreedOn || !rung.has(setting)) return [];
      const colleague = context.finder.person(ending.person);
      if (
        !colleague ||
        !context.unanswered(colleague).some((each) => each.kind === 'mailbox' && each.person === colleague.id)
      )
        return [];
      return [
        {
          detail: insideOf(setting),
          says: `In ${where} an unanswered call goes to ${colleague.name}’s own plan: it ends as voicemail for ${shortName(colleague.name)}, not here.`,
          evidence: [{ text: 'If the phone alone is meant, let it ring as a target', setting }],
        },
      ];
    });
  },
};
