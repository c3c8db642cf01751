import { numberShown, screened } from '../../../calls/out';
import { onceFor, settingOf, type E164, type Estate, type Person, type Trunk } from '../../../estate';
import { showNumber } from '../../../calls/dialling';
import { rungBy } from '../walk';
import { foundIn } from '../parts';
import type { Check, CheckContext } from '../types';

const NO_SETTINGS: NonNullable<Estate['settings']> = {};
/** By the settings of an organisation, then for each person. */
const shown = onceFor((settings: NonNullable<Estate['settings']>) =>
  onceFor((person: Person): readonly E164[] => {
    // With a status that is nobody's, what is set for all others counts.
    const statuses = ['', ...(person.showing ?? []).map(({ status = '' }) => status)];
    return [
      ...new Set(statuses.flatMap((status) => numberShown({ settings }, { ...person, status }).number ?? [])),
    ];
  }),
);
/** The numbers that somebody's calls out can show, whatever their status; those withheld are told to the carrier too. */
export const shownBy = ({ settings }: Pick<Estate, 'settings'>, person: Person): readonly E164[] =>
  shown(settings ?? NO_SETTINGS)(person);

/** Whether somebody's plan rings a phone outside over a trunk that is shown the caller's own number. */
const passesOn = (person: Person, trunk: Trunk, { endpoint, classOf }: CheckContext): boolean =>
  rungBy(person).some((target) => {
    if ((target.present ?? 'caller') !== 'caller') return false;
    const number = endpoint(target.endpoint)?.number;
    const carried = number === undefined ? 'bad-number' : classOf(number);
    return carried !== 'bad-number' && trunk.carries.includes(carried);
  });

/** What the carrier of a trunk holds back of somebody’s calls. */
interface OfPerson {
  readonly name: string;
  /** Numbers that calls of theirs show. */
  readonly numbers: readonly E164[];
  /** Whether their plan passes callers on by it. */
  readonly passes: boolean;
}

export const numberScreened: Check = {
  id: 'number-screened',
  of: 'organisation',
  weight: 'risk',
  title: 'Number that the carrier does not let show',
  looksFor:
    'Trunks whose carrier lets only some numbers show, and calls that leave by them with others: those of people, of access numbers, and of callers who are passed on to a phone outside.',
  why: 'The carrier refuses such a call, or shows another number: nobody sees who calls, and calling back leads elsewhere.',
  run: (context) => {
    const { estate } = context;
    return estate.trunks.flatMap((trunk) => {
      const { screening } = trunk;
      if (!screening) return [];
      const isHeld = (number: E164) => screened(screening, number) !== 'shows';
      const ofEach = context.parts(`screened by ${trunk.id}`, (person): OfPerson | null => {
        const numbers = shownBy(estate, person).filter(isHeld);
        const passes = passesOn(person, trunk, context);
        return numbers.length > 0 || passes ? { name: person.name, numbers, passes } : null;
      });
      const subject = { kind: 'trunk' as const, id: trunk.id, name: trunk.name };
      const does =
        screening.otherwise === 'refuses' ? 'refuses calls that show' : 'shows another number than';
      const evidence = [
        { text: 'Numbers that may show', setting: settingOf('trunks', trunk.id, 'screening') },
      ];
      const held = new Map<E164, string>();
      const passed: OfPerson[] = [];
      for (const each of foundIn(ofEach)) {
        for (const number of each.numbers) held.set(number, each.name);
        if (each.passes) passed.push(each);
      }
      for (const { presents, name } of estate.accessNumbers ?? [])
        if (presents?.startsWith('+') && isHeld(presents)) held.set(presents, name);
      const [first] = held;
      return [
        ...(first
          ? [
              {
                subject,
                detail: 'own',
                says: `The carrier of ${trunk.name} ${does} ${showNumber(first[0])} (${first[1]})${held.size > 1 ? ` and ${held.size - 1} other numbers of the organisation` : ''}.`,
                evidence,
              },
            ]
          : []),
        ...(passed.length > 0
          ? [
              {
                subject,
                detail: 'callers',
                says: `The carrier of ${trunk.name} ${does} the caller’s: ${passed.length === 1 ? `the phone outside of ${passed[0]!.name}` : `phones outside of ${passed.length} people`} would ${screening.otherwise === 'refuses' ? 'not ring' : 'not see who calls'}.`,
                evidence,
              },
            ]
          : []),
      ];
    });
  },
};
