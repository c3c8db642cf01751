import type { Estate, Person } from '../estate';
import { startFrom } from './template';

/** What is set for several people at once. */
export type ManyChange =
  | { readonly kind: 'status'; readonly to: string }
  | { readonly kind: 'permission'; readonly to: string }
  | { readonly kind: 'template'; readonly to: string };

export const MANY_KINDS = [
  'status',
  'permission',
  'template',
] as const satisfies readonly ManyChange['kind'][];

const listOf = (estate: Estate, kind: ManyChange['kind']) =>
  ({ status: estate.statuses, permission: estate.permissions, template: estate.templates ?? [] })[kind];

/** The name of what a change sets; null where the estate has no such thing. */
export const nameOfMany = (estate: Estate, { kind, to }: ManyChange): string | null =>
  listOf(estate, kind).find(({ id }) => id === to)?.name ?? null;

/**
 * A person after a change that is made to several at once.
 * @throws Error where the estate does not have what the change sets
 */
export function changedAsMany(estate: Estate, person: Person, change: ManyChange): Person {
  switch (change.kind) {
    case 'status':
      return { ...person, status: change.to };
    case 'permission':
      return { ...person, permission: change.to };
    case 'template': {
      const template = estate.templates?.find(({ id }) => id === change.to);
      if (!template) throw new Error(`no template ${change.to}`);
      return startFrom(person, template);
    }
  }
}
