import type { Desk, Person, PersonId } from '../estate';

/** Why somebody cannot sign on at a shared desk: the first of these that fits is told (desks, places and seats, 1). */
export const SIGN_ON_REFUSALS = [
  'no-such-desk',
  'no-such-person',
  'locked',
  'wrong-credential',
  'not-allowed',
  'left',
  'no-hot-desk',
  'taken',
  'in-call',
] as const;
export type SignOnRefusal = (typeof SIGN_ON_REFUSALS)[number];

/** How somebody came to be signed on, and why it ended. */
export const SIGN_ON_WAYS = ['by-code', 'by-page', 'by-badge', 'by-specialist'] as const;
export type SignOnWay = (typeof SIGN_ON_WAYS)[number];
export const SIGN_OFF_REASONS = [
  'by-hand',
  'elsewhere',
  'taken-over',
  'shift-end',
  'idle',
  'daily',
  'left',
  'by-specialist',
  'phone-gone',
] as const;
export type SignOffReason = (typeof SIGN_OFF_REASONS)[number];

export interface SigningOn {
  readonly desk: Desk | undefined;
  readonly person: Person | undefined;
  /** What was shown: `right` too where nothing has to be. */
  readonly credential: 'right' | 'wrong' | 'locked';
  readonly hasLeft: boolean;
  /** Who sits there now. */
  readonly occupant: PersonId | null;
  /** Whether the new one was told who sits there, and goes on. */
  readonly confirmed: boolean;
  /** Whether the desk’s phone has a call. */
  readonly inCall: boolean;
}

/** Whether a desk is for somebody: any list that names them is enough, and empty lists allow nobody. */
export const isAllowedAt = ({ allowed }: Desk, person: Person): boolean =>
  !allowed ||
  allowed.people?.includes(person.id) === true ||
  (person.template !== undefined && allowed.templates?.includes(person.template) === true) ||
  allowed.statuses?.includes(person.status) === true;

/** The phone of theirs that is whichever shared phone they are signed on to: the first one; null: they have none. */
export const hotDeskOf = (person: Person): string | null =>
  person.endpoints.find(({ kind }) => kind === 'hot-desk')?.id ?? null;

/** Why somebody cannot sign on; null: they can. */
export function signOnRefusal({
  desk,
  person,
  credential,
  hasLeft,
  occupant,
  confirmed,
  inCall,
}: SigningOn): SignOnRefusal | null {
  if (!desk) return 'no-such-desk';
  if (!person) return 'no-such-person';
  if (credential === 'locked') return 'locked';
  if (credential === 'wrong') return 'wrong-credential';
  if (!isAllowedAt(desk, person)) return 'not-allowed';
  if (hasLeft) return 'left';
  if (hotDeskOf(person) === null) return 'no-hot-desk';
  const { taken = 'refuse' } = desk;
  const byAnother = occupant !== null && occupant !== person.id;
  if (byAnother && (taken === 'refuse' || (taken === 'ask' && !confirmed))) return 'taken';
  return inCall ? 'in-call' : null;
}
