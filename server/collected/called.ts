import type { EstateIndex } from '../../core/calls/engine';

/** Who or what has a number, in words; null: nobody of the organisation. */
export function calledAt(
  index: EstateIndex,
  to: string,
): { readonly name: string; readonly person: string | null } | null {
  const called = index.destinations.get(to);
  switch (called?.kind) {
    case 'line':
      return { name: called.person.name, person: called.person.id };
    case 'group':
      return { name: called.group.name, person: null };
    case 'menu':
      return { name: called.menu.name, person: null };
    case undefined: {
      const access = index.estate.accessNumbers?.find(({ number }) => number === to);
      return access ? { name: access.name, person: null } : null;
    }
  }
}
