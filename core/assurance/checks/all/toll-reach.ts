import { showNumber, watchedAs } from '../../../calls/dialling';
import { outsideNumbers } from '../toll';
import type { Check, CheckContext, CheckResult } from '../types';

export const reached = (
  thing: { readonly permission: string },
  { estate, noWayOut, permission }: CheckContext,
): readonly CheckResult[] =>
  outsideNumbers(thing).flatMap((number) => {
    const watched = watchedAs(number, estate);
    if (!watched) return [];
    const open = noWayOut(permission(thing.permission), number) === null;
    return [
      {
        detail: number,
        weight: open ? 'fault' : 'note',
        says: `Leads to ${showNumber(number)}, ${watched === 'premium' ? 'a premium number' : 'which is watched'}${open ? '' : '; the permission does not let it be called'}.`,
      },
    ];
  });

export const tollReach: Check = {
  id: 'toll-reach',
  of: 'person',
  weight: 'fault',
  title: 'Leads to a premium or watched number',
  looksFor:
    'Phones, forwards and endings of people that lead to premium numbers or to those that fraud protection watches.',
  why: 'Each such call costs, and a forward is how toll fraud is set up.',
  run: reached,
};
