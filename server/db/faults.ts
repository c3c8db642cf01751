/** What the library calls what the database says. */
const codeOf = (error: unknown): unknown => (error as { code?: unknown } | null)?.code;

/**
 * Another's change of the same rows was sooner, on this server or, in a cluster, on another node: nothing of this one
 * was kept, and it may be done again from the beginning.
 */
export const isConflict = (error: unknown): boolean => codeOf(error) === 'ER_LOCK_DEADLOCK';

/**
 * Said of a statement, or of keeping a transaction, that broke off in the middle: a node that is cut off just then may
 * have handed it to the others before, and it is kept all the same.
 */
const HALF_WAY_CODES: readonly unknown[] = [
  'ER_ERROR_DURING_COMMIT',
  'ER_ERROR_DURING_ROLLBACK',
  'ER_QUERY_INTERRUPTED',
  'ER_UNKNOWN_ERROR',
];
export const isHalfWay = (error: unknown): boolean => HALF_WAY_CODES.includes(codeOf(error));

/** Others hold the rows for longer than is waited for: no sign that the database is away. */
export const isHeld = (error: unknown): boolean => codeOf(error) === 'ER_LOCK_WAIT_TIMEOUT';

/** The server went away, or, of a cluster, it is a node that is cut off or not up to date: another may answer. */
const LOST_CODES: readonly unknown[] = [
  'PROTOCOL_CONNECTION_LOST',
  'ECONNREFUSED',
  'ECONNRESET',
  'ENOENT',
  'EPIPE',
  'ETIMEDOUT',
  'EHOSTUNREACH',
  'PROTOCOL_SEQUENCE_TIMEOUT',
  'ER_SERVER_SHUTDOWN',
  'ER_CON_COUNT_ERROR',
  // "WSREP has not yet prepared node for application use".
  'ER_UNKNOWN_COM_ERROR',
  'ER_CONNECTION_KILLED',
  'ER_NEW_ABORTING_CONNECTION',
];
export const isLostCode = (error: unknown): boolean => LOST_CODES.includes(codeOf(error));
