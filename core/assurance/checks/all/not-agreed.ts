import type { SettingRef } from '../../../estate';
import { endingsOfPerson, isOn, targetsOf } from '../walk';
import type { Check } from '../types';

export const notAgreed: Check = {
  id: 'not-agreed',
  of: 'person',
  weight: 'note',
  title: 'No agreement of the colleague recorded',
  looksFor:
    'Colleagues whose phone, plan or mailbox gets this person’s calls, without a date on which they agreed.',
  why: 'A colleague who does not know lets it ring.',
  run: (person, { owner, finder, hasLeft }) => {
    // Calls of somebody who has left go where the organisation sends them.
    if (hasLeft(person)) return [];
    const asked = new Map<string, SettingRef>();
    for (const place of targetsOf(person).filter(isOn)) {
      const whose = owner(place.target.endpoint);
      if (whose && whose.id !== person.id && !place.target.agreedOn) asked.set(whose.id, place.setting);
    }
    for (const { ending, setting } of endingsOfPerson(person)) {
      const id =
        ending.kind === 'person' || ending.kind === 'mailbox'
          ? ending.person
          : ending.kind === 'endpoint'
            ? owner(ending.endpoint)?.id
            : undefined;
      if (id !== undefined && id !== person.id && !('agreedOn' in ending && ending.agreedOn))
        asked.set(id, setting);
    }
    return [...asked].map(([id, setting]) => ({
      detail: id,
      says: `${finder.person(id)?.name ?? id} gets calls of ${person.name}; it is not recorded that they agreed.`,
      evidence: [{ text: 'Here', setting }],
    }));
  },
};
