import {
  organisationSetting,
  settingOf,
  DEFAULT_ACCESS,
  type AccessNumber,
  type NumberClass,
  type Person,
} from '../../../estate';
import { ownNumber } from '../../../calls/out';
import { foundIn } from '../parts';
import type { Check, CheckContext, Subject } from '../types';

const subjectOf = ({ id, name }: AccessNumber): Subject => ({ kind: 'access', id, name });
const DEAR: readonly NumberClass[] = ['international', 'premium'];
const MOST_NAMED = 3;

const named = (people: readonly Person[]): string => {
  const names = people.slice(0, MOST_NAMED).map(({ name }) => name);
  const more = people.length - names.length;
  return more > 0 ? `${names.join(', ')} and ${more} more` : names.join(' and ');
};
/** Whom an access number can know by a mobile or landline of theirs. */
const isKnowable = ({ endpoints }: Person) => endpoints.some(({ number }) => number !== undefined);
/** Whom an access number can know, of whom something holds. */
const knowable = (
  { parts }: CheckContext,
  what: string,
  is: (person: Person) => boolean = () => true,
): readonly Person[] => foundIn(parts(what, (person) => (isKnowable(person) && is(person) ? person : null)));

export const accessByNumberAlone: Check = {
  id: 'access-by-number-alone',
  of: 'organisation',
  weight: 'risk',
  title: 'Calls abroad for whoever shows the right number',
  looksFor:
    'Access numbers that let people in by their number alone, without a PIN or a number that the carrier has verified, who may call abroad or premium numbers.',
  why: 'Anybody can show somebody else’s number. Whoever does so calls at the organisation’s expense.',
  run: (context) =>
    (context.estate.accessNumbers ?? []).flatMap((access) => {
      const { knows, pin, onlyVerified } = { ...DEFAULT_ACCESS, ...access };
      if (!knows || pin === 'always' || onlyVerified) return [];
      const dear = knowable(context, 'may call what is dear', ({ permission: id }) =>
        Boolean(context.permission(id)?.allow.some((each) => DEAR.includes(each))),
      );
      return dear.length === 0
        ? []
        : [
            {
              subject: subjectOf(access),
              says: `At ${access.name} a number that is shown is enough to call abroad as ${named(dear)}.`,
              evidence: [{ text: 'Who gets in', setting: settingOf('accessNumbers', access.id, 'pin') }],
              mend: {
                says: 'Ask everybody for a PIN',
                entries: [
                  {
                    kind: 'access' as const,
                    id: access.id,
                    name: access.name,
                    base: access,
                    after: { ...access, pin: 'always' as const },
                  },
                ],
              },
            },
          ];
    }),
};

export const accessForNobody: Check = {
  id: 'access-for-nobody',
  of: 'organisation',
  weight: 'fault',
  title: 'Access number that lets nobody in',
  looksFor: 'Access numbers at which nobody is known and nobody is asked for a PIN.',
  why: 'Whoever rings it hears that it is for staff, and no call goes out.',
  run: (context) =>
    (context.estate.accessNumbers ?? []).flatMap((access) => {
      const { knows, pin } = { ...DEFAULT_ACCESS, ...access };
      if (pin !== 'never' || (knows && knowable(context, 'can be known').length > 0)) return [];
      return [
        {
          subject: subjectOf(access),
          says: `${access.name} lets nobody in: ${knows ? 'nobody has a mobile or landline to be known by' : 'nobody is known by their number'}, and no PIN is asked for.`,
          evidence: [{ text: 'Who gets in', setting: settingOf('accessNumbers', access.id, 'pin') }],
        },
      ];
    }),
};

export const nothingToShow: Check = {
  id: 'nothing-to-show',
  of: 'organisation',
  weight: 'note',
  title: 'Calls out without a number to show',
  looksFor:
    'Access numbers by which people call who have no direct number, where the organisation has none either.',
  why: 'Their calls show no number. Many people do not take such calls, and some carriers refuse them.',
  run: (context) => {
    const { estate } = context;
    const access = estate.accessNumbers?.[0];
    if (!access || estate.settings?.number !== undefined) return [];
    const without = knowable(context, 'no number to show', (person) => ownNumber(person) === null);
    return without.length === 0
      ? []
      : [
          {
            subject: { kind: 'organisation' as const, id: 'organisation', name: estate.name },
            says: `${named(without)} ${without.length === 1 ? 'has' : 'have'} no direct number, and the organisation has no number to show instead.`,
            evidence: [
              { text: 'Number of the organisation', setting: organisationSetting('settings', 'number') },
            ],
          },
        ];
  },
};
