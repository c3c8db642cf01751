import { type SettingRef, settingOf } from '../../../estate';
import { endingsOfPerson, isOn, targetsOf } from '../walk';
import type { Check } from '../types';

export const leadsToLeaver: Check = {
  id: 'leads-to-leaver',
  of: 'person',
  weight: 'fault',
  title: 'Leads to somebody who has left',
  looksFor: 'Plans, covers and forwards that lead to the phone, plan or mailbox of somebody who has left.',
  why: 'Nobody is there to answer, and nobody listens to the messages.',
  run: (person, { owner, finder, hasLeft }) => {
    if (hasLeft(person)) return [];
    const gone = new Map<string, SettingRef>();
    const see = (id: string | undefined, setting: SettingRef) => {
      const whom = id === undefined ? undefined : finder.person(id);
      if (whom && whom.id !== person.id && hasLeft(whom)) gone.set(whom.id, setting);
    };
    for (const place of targetsOf(person).filter(isOn)) see(owner(place.target.endpoint)?.id, place.setting);
    for (const { ending, setting } of endingsOfPerson(person))
      see(
        'person' in ending
          ? ending.person
          : ending.kind === 'endpoint'
            ? owner(ending.endpoint)?.id
            : undefined,
        setting,
      );
    for (const id of person.mailbox?.copyTo ?? [])
      see(id, settingOf('people', person.id, 'mailbox', 'copyTo'));
    return [...gone].map(([id, setting]) => ({
      detail: id,
      says: `Leads to ${finder.person(id)?.name ?? id}, who has left.`,
      evidence: [{ text: 'Here', setting }],
    }));
  },
};
