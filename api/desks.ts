/** A half hour of a week at a site: how many come, and the chance that somebody finds no desk. */
export interface DeskHalfHour {
  readonly fromMs: number;
  readonly expected: number;
  readonly chance: number;
}

/** Whether a site has enough shared desks in a week. */
export interface EnoughPage {
  readonly site: string;
  readonly timeZone: string;
  readonly desks: number;
  readonly needed: number;
  readonly halfHours: readonly DeskHalfHour[];
  /** Whom no desk there allows although the roster sends them. */
  readonly without: readonly { readonly id: string; readonly name: string }[];
}
