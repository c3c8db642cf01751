import type { Estate, Person } from '../../estate';
import type { Wish } from './own';

const seconds = (ms: number) => `${ms / 1000} s`;

/** A wish in words, as the end of "Ines wants …". */
export function sayWish(estate: Estate, person: Person, wish: Wish): string {
  const label = (id: string) => person.endpoints.find((each) => each.id === id)?.label ?? id;
  const nameOf = (list: readonly { readonly id: string; readonly name: string }[], id: string) =>
    list.find((each) => each.id === id)?.name ?? id;
  switch (wish.kind) {
    case 'status':
      return `the status “${nameOf(estate.statuses, wish.status)}”`;
    case 'twinning':
      return `${label(wish.endpoint)} switched ${wish.on ? 'on' : 'off'}`;
    case 'number':
      return `the number ${wish.number} for ${label(wish.endpoint)}`;
    case 'ring-time':
      return `step ${wish.stage + 1} to ring for ${seconds(wish.forMs)}`;
    case 'sequence':
      return `the steps in the order ${wish.order.map((each) => each + 1).join(', ')}`;
    case 'hours':
      return wish.schedule === null
        ? `${label(wish.endpoint)} to ring at any hour`
        : `${label(wish.endpoint)} to ring in “${nameOf(estate.schedules, wish.schedule)}” only`;
    case 'cover':
      return `all calls to ${nameOf(estate.people, wish.person)} until ${wish.until}`;
    case 'cover-end':
      return 'cover to end now';
  }
}
