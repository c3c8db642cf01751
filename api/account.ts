export interface OwnSession {
  readonly id: number;
  readonly beganAt: string;
  readonly seenAt: string;
  readonly from: string;
  readonly agent: string;
  readonly isThis: boolean;
}

export interface OwnAccount {
  readonly name: string;
  readonly role: string;
  readonly sessions: readonly OwnSession[];
  readonly secondFactor: { readonly since: string; readonly codesLeft: number } | null;
}

export type Role = 'specialist' | 'help-desk' | 'manager' | 'staff';

export interface Account {
  readonly name: string;
  readonly role: Role;
  /** The organisation's: times without a zone of their own are shown by its clock. */
  readonly timeZone: string;
}
