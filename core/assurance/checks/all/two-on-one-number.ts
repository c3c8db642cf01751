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
  run: ({ estate, hasLeft, groupParts }) => {
    const { several } = groupParts('numbers of phones', (person) => {
      const keys = person.endpoints.flatMap(({ number, uri }) => number ?? uri ?? []);
      return hasLeft(person) || keys.length === 0 ? null : { keys };
    });
    return [...several].flatMap(([key, places]) => {
      const all = [...places]
        .sort((a, b) => a - b)
        .flatMap((at) => {
          const { id, name, endpoints } = estate.people[at]!;
          const subject: Subject = { kind: 'person', id, name };
          return endpoints
            .filter(({ number, uri }) => (number ?? uri) === key)
            .map((endpoint) => ({ subject, endpoint: endpoint.id }));
        });
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
