import { showNumber, watchedAs, type NoWayOut } from '../../../calls/dialling';
import { settingOf, type Group, type Seat } from '../../../estate';
import type { Check, CheckContext } from '../types';

/** A seat that passes calls to a number outside, for one group that has it. */
interface Passing {
  readonly seat: Seat;
  readonly number: string;
  readonly group: Group;
  /** Why the group’s calls cannot go there; null: they can. */
  readonly noWay: NoWayOut | null;
}

const passings = ({ estate, noWayOut, permission }: CheckContext): readonly Passing[] =>
  (estate.seats ?? []).flatMap((seat) => {
    const { unattended } = seat;
    if (!unattended || !('passTo' in unattended) || !('number' in unattended.passTo)) return [];
    const { number } = unattended.passTo;
    return estate.groups
      .filter(({ members }) => members.some((each) => 'seat' in each && each.seat === seat.id))
      .map((group) => ({ seat, number, group, noWay: noWayOut(permission(group.permission), number) }));
  });

const subjectOf = ({ id, name }: Seat) => ({ kind: 'seat' as const, id, name });
const WHY: Record<NoWayOut, string> = {
  'bad-number': 'which is no number that can be called',
  'not-permitted': 'which the group may not call',
  'no-route': 'which no trunk carries',
  'no-channel': 'for which the trunks have no channel',
};

export const seatCannotPass: Check = {
  id: 'seat-cannot-pass',
  of: 'organisation',
  weight: 'fault',
  title: 'Seat passes calls to a number that cannot be called',
  looksFor:
    'Unattended seats of a group whose permission, or whose trunks, let no call out to the number that they pass calls to.',
  why: 'The call is passed on in vain: the group goes on as if nobody answered there, and nobody is told.',
  run: (context) =>
    passings(context).flatMap(({ seat, number, group, noWay }) =>
      noWay === null
        ? []
        : [
            {
              subject: subjectOf(seat),
              detail: group.id,
              says: `${seat.name} passes the calls of ${group.name} to ${showNumber(number)}, ${WHY[noWay]}.`,
              evidence: [
                { text: 'Passes calls to', setting: settingOf('seats', seat.id, 'unattended') },
                { text: 'Permission of the group', setting: settingOf('groups', group.id, 'permission') },
              ],
            },
          ],
    ),
};

export const seatToWatchedNumber: Check = {
  id: 'seat-to-watched-number',
  of: 'organisation',
  weight: 'fault',
  title: 'Seat passes calls to a premium or watched number',
  looksFor: 'Unattended seats that pass calls to premium numbers or to those that fraud protection watches.',
  why: 'Each such call costs, and every caller of the group can bring it about.',
  run: (context) =>
    passings(context).flatMap(({ seat, number, group, noWay }) => {
      const watched = watchedAs(number, context.estate);
      return watched === null || noWay !== null
        ? []
        : [
            {
              subject: subjectOf(seat),
              detail: group.id,
              says: `${seat.name} passes the calls of ${group.name} to ${showNumber(number)}, ${watched === 'premium' ? 'a premium number' : 'which is watched'}.`,
              evidence: [{ text: 'Passes calls to', setting: settingOf('seats', seat.id, 'unattended') }],
            },
          ];
    }),
};
