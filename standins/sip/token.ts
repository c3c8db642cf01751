import { randomBytes } from 'node:crypto';

const POOL_BYTES = 4096;
let pool = randomBytes(POOL_BYTES);
let taken = 0;

/** Random letters and digits, from a pool that is filled now and then: asking for a few bytes each time is slow. */
export function newToken(bytes = 9): string {
  if (taken + bytes > POOL_BYTES) {
    pool = randomBytes(POOL_BYTES);
    taken = 0;
  }
  taken += bytes;
  return pool.toString('hex', taken - bytes, taken);
}
