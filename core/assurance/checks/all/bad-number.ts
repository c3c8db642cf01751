import { settingOf } from '../../../estate';
import { readNumber } from '../../../calls/dialling';
import { labelOf, mendOf } from '../walk';
import type { Check } from '../types';

/** Numbers that nobody can have: an outside code typed into them, a country left out, a digit too many. */
export const badNumber: Check = {
  id: 'bad-number',
  of: 'person',
  weight: 'fault',
  title: 'A number that cannot be called',
  looksFor:
    'Mobiles and landlines whose number is none of the numbering plan: the outside code typed into it or doubled, the country left out.',
  why: 'A number for a roaming phone needs its country, and never an outside code: the system adds what it dials.',
  run: (person, { classOf, estate }) =>
    person.endpoints.flatMap((endpoint) => {
      const { number } = endpoint;
      if (!number) return [];
      const digits = number.slice(1);
      const { outsideCode, nationalPrefix } = estate.dialling;
      const isBad = classOf(number) === 'bad-number';
      // Dialled with its codes and taken for E.164, a home number becomes one of another country.
      const asDialled = outsideCode !== '' && digits.startsWith(outsideCode + nationalPrefix);
      if (!isBad && !asDialled) return [];
      const guess = [digits.startsWith(outsideCode) ? digits.slice(outsideCode.length) : '', digits]
        .filter(Boolean)
        .map((text) => readNumber(text, estate.dialling))
        .find((read) => read.ok && read.e164 !== number && classOf(read.e164) !== 'bad-number');
      const right = guess?.ok ? guess.e164 : null;
      if (!isBad && (!right || classOf(right) === 'international')) return [];
      return [
        {
          detail: endpoint.id,
          says: `The ${labelOf(endpoint)} has ${number}, which ${isBad ? 'is no number that can be called' : 'is a number abroad'}${right ? `; ${right} may be meant` : ''}.`,
          evidence: [
            {
              text: `Number of ${endpoint.label}`,
              setting: settingOf('people', person.id, ['endpoints', endpoint.id], 'number'),
            },
          ],
          mend: right
            ? mendOf(`Set ${right}`, 'person', person, {
                ...person,
                endpoints: person.endpoints.map((each) =>
                  each.id === endpoint.id ? { ...each, number: right } : each,
                ),
              })
            : null,
        },
      ];
    }),
};
