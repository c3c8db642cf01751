import type { Dialling } from '../core/estate';

export interface OrganisationPage {
  readonly name: string;
  readonly timeZone: string;
  readonly dialling: Dialling;
  /** Nothing was begun yet: the guide for a new organisation is shown. */
  readonly unbegun: boolean;
  readonly counts: Readonly<
    Record<'people' | 'groups' | 'menus' | 'hours' | 'statuses' | 'permissions' | 'trunks' | 'phones', number>
  >;
}

/** What an estate file would change, by kind. */
export interface EstatePreview {
  readonly name: string;
  readonly people: number;
  /** The organisation's own name or zone is another in the file. */
  readonly renamed: boolean;
  readonly kinds: readonly {
    readonly kind: string;
    readonly added: readonly string[];
    readonly changed: readonly string[];
    readonly removed: readonly string[];
  }[];
  readonly entries: number;
}
