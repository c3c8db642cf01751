import type { DeskPromise, DeskTaken, Schedule } from '../estate';
import type { DeskStanding, DeskVerdict } from './promises';
import type { SignOffReason, SignOnRefusal, SignOnWay } from './signing';

/** Why somebody cannot sign on, in a sentence that is shown, or said at a phone. */
export function sayRefusal(
  why: SignOnRefusal,
  {
    occupant,
    taken = 'refuse',
    atPhone = false,
  }: { readonly occupant?: string | null; readonly taken?: DeskTaken; readonly atPhone?: boolean } = {},
): string {
  // At a phone nobody learns who there is, and who has left.
  const wrong = 'This extension and PIN do not go together.';
  switch (why) {
    case 'no-such-desk':
      return 'This phone is no shared desk.';
    case 'no-such-person':
      return atPhone ? wrong : 'There is nobody of this name.';
    case 'locked':
      return 'Too many wrong tries. Wait a quarter of an hour.';
    case 'wrong-credential':
      return atPhone ? wrong : 'That is not right.';
    case 'not-allowed':
      return 'This desk is not for this person.';
    case 'left':
      return atPhone ? wrong : 'They have left.';
    case 'no-hot-desk':
      return 'They have no shared desk among their phones.';
    case 'taken':
      return taken === 'ask'
        ? `${occupant ?? 'Somebody'} sits here. Sign them off and go on?`
        : `${occupant ?? 'Somebody'} sits here.`;
    case 'in-call':
      return 'This phone is in a call. Try again when it has ended.';
  }
}

const OFF: Readonly<Record<SignOffReason, string>> = {
  'by-hand': 'signed off',
  elsewhere: 'signed on at another desk',
  'taken-over': 'the desk was taken over',
  'shift-end': 'the shift was over',
  idle: 'the phone was not used',
  daily: 'at the daily time',
  left: 'left the organisation',
  'by-specialist': 'signed off by the specialist',
  'phone-gone': 'the phone is gone',
};
export const saySignOff = (why: SignOffReason): string => OFF[why];

const ON: Readonly<Record<SignOnWay, string>> = {
  'by-code': 'by code at the phone',
  'by-page': 'from the own page',
  'by-badge': 'by badge',
  'by-specialist': 'by the specialist',
};
export const saySignOn = (how: SignOnWay): string => ON[how];

/** A chance in words short enough for a list. */
export const sayChance = (chance: number): string =>
  chance === 0
    ? '0 %'
    : chance < 0.0001
      ? 'under 0.01 %'
      : `${(chance * 100).toFixed(chance < 0.1 ? 2 : 0)} %`;

/** A part of a whole as people write it, such as 99.9 %. */
export const sayKeeps = (keeps: number): string => `${Number((keeps * 100).toFixed(4))} %`;

/** What is promised about a site's shared desks, as a sentence. */
export function sayDeskPromise(
  { schedule, keeps }: DeskPromise,
  schedules: readonly Pick<Schedule, 'id' | 'name'>[],
): string {
  const hours =
    schedule === undefined ? null : (schedules.find(({ id }) => id === schedule)?.name ?? schedule);
  return `${hours === null ? 'Nobody' : `Nobody of ${hours}`} is without a desk (${sayKeeps(keeps)})`;
}

/** How a promise stands, in a word or two. */
export const DESK_STANDING: Record<DeskStanding, string> = {
  holds: 'Holds',
  broken: 'Broken',
  open: 'Not certain',
};

/** What a promise needs and what there is, as a clause. */
export function sayNeeded({
  standing,
  needed,
  desks,
  forAll,
}: Omit<DeskVerdict, 'promise' | 'worst' | 'untilMs'>): string {
  switch (standing) {
    case 'holds':
      return `${needed} of the ${desks} desks would do`;
    case 'broken':
      return `${needed} desks keep it, and there are ${desks}`;
    case 'open':
      return `${needed} desks keep it, and of the ${desks} there only ${forAll} are for everybody who comes`;
  }
}
