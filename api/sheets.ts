/** One step of a sheet: what to do, the way through the menus, what is typed, and what to expect then. */
export interface SheetStep {
  readonly says: string;
  readonly menus?: readonly string[];
  readonly value?: string;
  readonly expect?: string;
}

/** Something to be printed and handed over. */
export interface Sheet {
  readonly title: string;
  readonly note?: string;
  /** What a code on it says, for an app to read. */
  readonly code?: string;
  readonly steps: readonly SheetStep[];
  /** What is read and not done: each with its heading. */
  readonly parts?: readonly SheetPart[];
}

export interface SheetPart {
  readonly title: string;
  readonly lines: readonly string[];
}
