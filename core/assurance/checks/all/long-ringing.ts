import { seconds } from '../../../calls/engine';
import type { Check } from '../types';

const LONGEST_MS = 60_000;

export const longRinging: Check = {
  id: 'long-ringing',
  of: 'person',
  weight: 'risk',
  title: 'Total ringing so long that callers give up',
  looksFor: 'Unanswered calls that go on for more than a minute before they come to an end.',
  why: 'Callers give up, and carriers end calls that ring too long, before the message can be left.',
  run: (person, context) => {
    const longest = context
      .unanswered(person)
      .reduce<ReturnType<typeof context.unanswered>[number] | null>(
        (a, b) => (!a || b.atMs > a.atMs ? b : a),
        null,
      );
    if (!longest || longest.atMs <= LONGEST_MS) return [];
    return [
      { says: `An unanswered call goes on for ${seconds(longest.atMs)} before it ends.`, call: longest.call },
    ];
  },
};
