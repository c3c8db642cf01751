import { MISTAKES } from './special-mistakes';
import { NEEDS } from './special-needs';

export { OFFICE } from './special-parts';

/** The hand-written people: one for each need and each common mistake. */
export const SPECIAL_PEOPLE = [...NEEDS, ...MISTAKES];
