/** Shared desks, and who comes to them when. */

export const DESK_CREDENTIALS = ['pin', 'code-and-pin', 'page', 'badge'] as const;
/** How somebody shows who they are: a PIN at the phone, a code shown at the desk as well, their own page, or a badge. */
export type DeskCredential = (typeof DESK_CREDENTIALS)[number];
export const DESK_TAKEN = ['refuse', 'take-over', 'ask'] as const;
/** What happens where somebody sits there already. */
export type DeskTaken = (typeof DESK_TAKEN)[number];

export interface Desk {
  readonly id: string;
  readonly name: string;
  /** Its phone, a device. */
  readonly device: string;
  /** Where in the site. */
  readonly area?: string;
  /** Where on the plan of its area, from 1, the upper left first; left out: on the next free place. */
  readonly spot?: { readonly column: number; readonly row: number };
  /** Who may sign on there: any list that names somebody is enough; left out: everybody. */
  readonly allowed?: {
    readonly people?: readonly string[];
    readonly templates?: readonly string[];
    readonly statuses?: readonly string[];
  };
  readonly credential?: DeskCredential;
  readonly taken?: DeskTaken;
  readonly signOff?: {
    readonly atShiftEnd?: boolean;
    /** Without a call and a key for so long, s; null: not. */
    readonly afterIdleS?: number | null;
    /** Every day at this time, "HH:MM" in the site's zone; null: not. */
    readonly dailyAt?: string | null;
  };
}

/** That nobody who comes to a site is without a shared desk. */
export interface DeskPromise {
  /** In the hours of this schedule; left out: at all hours. */
  readonly schedule?: string;
  /** In how large a part of half hours alike everybody finds one, such as 0.99. */
  readonly keeps: number;
}

/** When somebody comes to a site, by hours. */
export interface RosterEntry {
  readonly schedule: string;
  readonly site: string;
  /** How likely they come, over 0 up to 1; left out: 1. */
  readonly share?: number;
}
