import { showNumber } from '../../../calls/dialling';
import { settingOf, type Seat } from '../../../estate';
import { isOwnNumber } from '../../../seats';
import type { Check } from '../types';

const subjectOf = ({ id, name }: Seat) => ({ kind: 'seat' as const, id, name });

export const seatInNoGroup: Check = {
  id: 'seat-in-no-group',
  of: 'organisation',
  weight: 'note',
  title: 'Seat in no group',
  looksFor: 'Seats that no group has among its members.',
  why: 'Whoever signs on there waits for calls that never come.',
  run: ({ estate }) => {
    const used = new Set(
      estate.groups.flatMap(({ members }) => members.flatMap((each) => ('seat' in each ? [each.seat] : []))),
    );
    return (estate.seats ?? [])
      .filter(({ id }) => !used.has(id))
      .map((seat) => ({
        subject: subjectOf(seat),
        says: `${seat.name} is a seat of no group: no call ever rings there.`,
        evidence: [{ text: 'Extension to sign on with', setting: settingOf('seats', seat.id, 'extension') }],
      }));
  },
};

export const seatToOwnNumber: Check = {
  id: 'seat-to-own-number',
  of: 'organisation',
  weight: 'risk',
  title: 'Seat passes calls back to the organisation',
  looksFor: 'Seats that pass calls to a number of the organisation itself.',
  why: 'The call leaves by a trunk and comes back by another, and may come to the same group again.',
  run: ({ estate, index }) =>
    (estate.seats ?? []).flatMap((seat) => {
      const { unattended } = seat;
      const number =
        unattended && 'passTo' in unattended && 'number' in unattended.passTo
          ? unattended.passTo.number
          : null;
      return number === null || !isOwnNumber(index, number)
        ? []
        : [
            {
              subject: subjectOf(seat),
              says: `${seat.name} passes calls to ${showNumber(number)}, which is a number of the organisation itself.`,
              evidence: [{ text: 'Passes calls to', setting: settingOf('seats', seat.id, 'unattended') }],
            },
          ];
    }),
};
