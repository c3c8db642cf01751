/** A telephone number as ITU-T E.164 has it, with a leading `+` and no spaces. */
export type E164 = string;
export type Ms = number;

/** Holds while a moment is inside hours, or outside them. */
export interface ScheduleTest {
  readonly id: string;
  readonly inside: boolean;
}
