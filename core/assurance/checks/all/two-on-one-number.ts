import { settingOf, andList } from '../../../estate';
import { showNumber } from '../../../calls/dialling';
import type { Check, Subject } from '../types';

/** Whose phones share one number or address. */
export const sameNumber: Check = {
  id: 'two-on-one-number',
  of: 'organisation',
  weight: 'risk',
  title: 'Two people on one phone outside',
  looksFor: 'Mobiles, landlines and SIP addresses that more than one person has among their phones.',
  why: 'Calls for one ring at the other, and which of them answered is not known.',
  run: ({ estate, hasLeft }) => {
    const owners = new Map<string, { readonly subject: Subject; readonly endpoint: string }[]>();
    for (const person of estate.people) {
      if (hasLeft(person)) continue;
      for (const { id, number, uri } of person.endpoints) {
        const key = number ?? uri;
        if (key === undefined) continue;
        const known = owners.get(key);
        const owner = {
          subject: { kind: 'person' as const, id: person.id, name: person.name },
          endpoint: id,
        };
        if (known) known.push(owner);
        else owners.set(key, [owner]);
      }
    }
    return [...owners].flatMap(([key, all]) => {
      const [first, ...others] = all;
      const more = others.filter(({ subject }) => subject.id !== first!.subject.id);
      if (!first || more.length === 0) return [];
      return [
        {
          subject: first.subject,
          detail: first.endpoint,
          says: `${/^\+/.test(key) ? showNumber(key) : key} is a phone of ${andList([first, ...more].map(({ subject }) => subject.name))}.`,
          evidence: all.map(({ subject, endpoint }) => ({
            text: subject.name,
            setting: settingOf('people', subject.id, ['endpoints', endpoint], 'number'),
          })),
        },
      ];
    });
  },
};
