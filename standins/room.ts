/**
 * MiB of young objects that the stand-ins' process takes (`--max-semi-space-size`): with 5,000 phones that register
 * again and again most of what is made is gone soon, and need not be looked through so often.
 */
export const STANDINS_YOUNG_MIB = 64;
