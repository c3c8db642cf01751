/** Who uses the server, and as what. */
export const ROLES = ['specialist', 'help-desk', 'manager'] as const;
/** Those who sign in to look after themselves only. */
export const STAFF = 'staff';
export type Role = (typeof ROLES)[number] | typeof STAFF;
export const EVERY_ROLE: readonly Role[] = [...ROLES, STAFF];

export interface Account {
  readonly id: number;
  readonly name: string;
  readonly role: Role;
  /** Of staff: whose own page it is. */
  readonly person: string | null;
  /** The session that is used. */
  readonly session: number;
}
