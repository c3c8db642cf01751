import { randomBytes } from 'node:crypto';

/** What a proxy may have named a request. */
const GIVEN = /^[\w.-]{8,64}$/;

/** The name that a request has in the log: the proxy's where it gave one, else a new one. */
export const requestId = (given: unknown): string =>
  typeof given === 'string' && GIVEN.test(given) ? given : randomBytes(9).toString('base64url');
