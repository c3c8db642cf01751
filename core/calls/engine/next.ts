import type { SettingRef, Ending, Group, Line, Menu, Person } from '../../estate';
import type { Payer } from './state';
import type { StagesResult } from './stages';

/** Whose Ending applies: whose mailbox it means, whose permission dials, and where it is set. */
export interface Owner {
  readonly person: Person | null;
  readonly payer: Payer;
  readonly isMenu: boolean;
  readonly setting: SettingRef;
}

/** Where the call goes next. */
export type Next =
  | { readonly go: 'person'; readonly person: Person; readonly line: Line | undefined }
  | { readonly go: 'group'; readonly group: Group }
  | { readonly go: 'menu'; readonly menu: Menu }
  | {
      readonly go: 'ending';
      readonly ending: Ending;
      readonly owner: Owner;
      readonly round: () => StagesResult;
    };

/** A round of nothing, where an ending applies at once. */
export const NO_ROUND = (): StagesResult => 'through';
