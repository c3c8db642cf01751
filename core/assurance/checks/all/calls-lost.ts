import { isLost, FAILURES } from '../../../calls/engine';
import type { Check } from '../types';

export const callsLost: Check = {
  id: 'calls-lost',
  of: 'person',
  weight: 'fault',
  title: 'Unanswered calls are lost',
  looksFor:
    'Unanswered calls that end nowhere, fail, or end in a mobile carrier’s voicemail, at some moment of the year.',
  why: 'The caller cannot leave a message, or leaves it where the organisation never hears it.',
  run: (person, context) => {
    const seen = new Set<string>();
    return context.unanswered(person).flatMap(({ kind, reason, call }) => {
      // A call that goes round has a check of its own.
      if (!isLost(kind) || kind === 'loop' || seen.has(`${kind} ${reason}`)) return [];
      seen.add(`${kind} ${reason}`);
      const how =
        kind === 'failed'
          ? `fails: ${FAILURES[reason] ?? reason}`
          : kind === 'unanswered'
            ? 'is answered by nobody, and nothing comes after'
            : 'ends in a mobile carrier’s voicemail';
      return [{ detail: `${kind} ${reason}`.trim(), says: `An unanswered call ${how}.`, call }];
    });
  },
};
