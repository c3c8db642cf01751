import pino, { type Logger } from 'pino';

/** What a line says of an error: never the values that it was about, which may be somebody's private number. */
export function aboutError(error: unknown): object {
  // Told already, as it comes by way of the log's own serializer.
  if (typeof error === 'object' && error !== null && 'type' in error && !(error instanceof Error))
    return error;
  if (!(error instanceof Error)) return { type: typeof error };
  const { code, errno, sqlState } = error as { code?: unknown; errno?: unknown; sqlState?: unknown };
  // A database's message repeats the values of the statement; our own errors are sentences without any.
  const isSql = sqlState !== undefined || errno !== undefined;
  return {
    type: error.name,
    ...(code === undefined ? {} : { code }),
    ...(errno === undefined ? {} : { errno }),
    ...(isSql ? {} : { message: error.message.slice(0, 300) }),
    at: (error.stack ?? '')
      .split('\n')
      .filter((line) => /^\s+at /.test(line))
      .slice(0, 8)
      .map((line) => line.trim()),
  };
}

export const openLog = (level: string): Logger =>
  pino({ level, serializers: { err: aboutError, error: aboutError } });

const MINUTE_MS = 60_000;
const MOST_KEYS = 200;

/**
 * Says the same thing once a minute, with how often it was so meanwhile: a log does not grow with what is sent.
 * @returns says it, or counts it
 */
export function onceAMinute(log: Pick<Logger, 'warn'>, now: () => number = Date.now) {
  const said = new Map<string, { sinceMs: number; times: number }>();
  return (what: string, about: object = {}): void => {
    const at = now();
    const before = said.get(what);
    if (before && at - before.sinceMs < MINUTE_MS) {
      before.times += 1;
      return;
    }
    if (!before && said.size >= MOST_KEYS) said.clear();
    said.set(what, { sinceMs: at, times: 0 });
    log.warn(before && before.times > 0 ? { ...about, timesBefore: before.times } : about, what);
  };
}
