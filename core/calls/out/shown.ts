import type { E164, Estate, Person, Screening, ShownNumber } from '../../estate';

/** The number that a call shows, as it leaves. */
export interface Shown {
  /** null: the organisation has none to show. */
  readonly number: E164 | null;
  /** Told to the carrier all the same, but not to the one who is called (RFC 3323). */
  readonly isWithheld: boolean;
}

/** What somebody shows while they have their status: what is set for it, else for any other, else their own number. */
const chosen = ({ status, showing = [] }: Pick<Person, 'status' | 'showing'>) =>
  (showing.find((each) => each.status === status) ?? showing.find((each) => each.status === undefined))
    ?.shows ?? 'own';

/** The number that a person has of their own: the first of their lines that has one. */
export const ownNumber = ({ lines }: Pick<Person, 'lines'>): E164 | null =>
  lines.flatMap(({ numbers }) => numbers)[0] ?? null;

/**
 * The number that calls of somebody show which leave as the organisation's.
 * @param presents what the access number shows by which they come; `own` leaves it to the person
 */
export function numberShown(
  { settings }: Pick<Estate, 'settings'>,
  person: Pick<Person, 'status' | 'showing' | 'lines'>,
  presents: ShownNumber = 'own',
): Shown {
  const shows = presents === 'own' ? chosen(person) : presents;
  const own = ownNumber(person) ?? settings?.number ?? null;
  switch (shows) {
    case 'withheld':
      return { number: own, isWithheld: true };
    case 'own':
      return { number: own, isWithheld: false };
    case 'organisation':
      return { number: settings?.number ?? own, isWithheld: false };
    default:
      return { number: shows, isWithheld: false };
  }
}

/** What a trunk's carrier does with a call that shows a number. */
export const screened = (screening: Screening | undefined, number: E164): 'shows' | Screening['otherwise'] =>
  !screening || screening.allows.some((prefix) => number.startsWith(prefix)) ? 'shows' : screening.otherwise;
