import { endingsOfPerson, mendOf } from '../walk';
import type { Check } from '../types';

export const mailboxOff: Check = {
  id: 'mailbox-off',
  of: 'person',
  weight: 'fault',
  title: 'Ends in a mailbox that is switched off',
  looksFor: 'Plans and forwards that end in a mailbox, their own or a colleague’s, that takes no messages.',
  why: 'The caller is sent to where nothing can be left.',
  run: (person, { finder }) => {
    const off = new Map(
      endingsOfPerson(person).flatMap(({ ending, setting }) => {
        if (ending.kind !== 'mailbox') return [];
        const whose = ending.person === undefined ? person : finder.person(ending.person);
        return whose?.mailbox?.enabled === false ? [[whose.id, { whose, setting }] as const] : [];
      }),
    );
    return [...off.values()].map(({ whose, setting }) => ({
      detail: whose.id,
      says: `${whose.id === person.id ? 'Their own' : `${whose.name}’s`} mailbox is switched off, and calls end there.`,
      evidence: [{ text: 'Ends there', setting }],
      mend: mendOf('Switch the mailbox on', 'person', whose, {
        ...whose,
        mailbox: { ...whose.mailbox, enabled: true },
      }),
    }));
  },
};
