import type { Estate } from '../../estate';

/** Every extension of an estate: of people, groups and menus. */
export const extensionsOf = ({
  people,
  groups,
  menus,
}: Pick<Estate, 'people' | 'groups' | 'menus'>): Set<string> =>
  new Set([
    ...people.flatMap(({ lines }) => lines.map(({ extension }) => extension)),
    ...[...groups, ...menus].map(({ extension }) => extension),
  ]);
