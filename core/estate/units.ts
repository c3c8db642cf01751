/** A telephone number as ITU-T E.164 has it, with a leading `+` and no spaces. */
export type E164 = string;
export type Ms = number;
