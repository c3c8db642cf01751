import type { Menu, MenuRule, Schedule } from '../estate';
import { moved } from './lists';

/** Whether a case is for every call: nothing of hours or callers is asked. */
export const isForEveryCall = ({ when }: MenuRule): boolean => !when.schedule && !when.caller;

/**
 * One more case of a menu, asked before all others. It begins as what holds otherwise, inside the first hours that no
 * other case asks for; where there are none, for calls from inside.
 */
export function addCase(menu: Menu, schedules: readonly Schedule[]): Menu {
  const taken = new Set(menu.rules.map(({ id }) => id));
  let n = menu.rules.length + 1;
  while (taken.has(`case-${n}`)) n += 1;
  const free = schedules.find(({ id }) => !menu.rules.some(({ when }) => when.schedule?.id === id));
  const fresh: MenuRule = {
    ...(menu.rules.at(-1) ?? {
      greetingMs: 6000,
      waitMs: 4000,
      choices: [],
      otherwise: { kind: 'hang-up', message: '' },
    }),
    id: `case-${n}`,
    when: free ? { schedule: { id: free.id, inside: true } } : { caller: { class: 'internal' } },
  };
  return { ...menu, rules: [fresh, ...menu.rules] };
}

/** Moves a case among the others: the first that fits decides. */
export const moveCase = (menu: Menu, from: number, to: number): Menu => ({
  ...menu,
  rules: moved(menu.rules, from, to),
});
