import type { Fault } from '../../core/estate';

/** What the server said when it did not do as asked. */
export interface ApiError {
  readonly apiError: true;
  /** HTTP status; 0 when the server could not be reached. */
  readonly status: number;
  readonly message: string;
  readonly faults: readonly Fault[];
  readonly body: Readonly<Record<string, unknown>>;
}

export const isApiError = (error: unknown): error is ApiError =>
  typeof error === 'object' && error !== null && 'apiError' in error;

/** What is wrong with one field of what was sent, by its path; null: nothing. */
export const faultOf = (error: unknown, path: string): string | null =>
  isApiError(error) ? (error.faults.find((fault) => fault.path === path)?.message ?? null) : null;

/** All that is wrong with what was sent, with its paths; none where the error says no more than itself. */
export const faultsOf = (error: unknown): readonly Fault[] => (isApiError(error) ? error.faults : []);

/** An error that stands beside no field, to be told by itself; else null. */
export const besideNoField = (error: unknown): unknown =>
  isApiError(error) && error.faults.length > 0 ? null : error;

export const messageOf = (error: unknown): string =>
  isApiError(error) ? [error.message, ...error.faults.map((f) => f.message)].join(' ') : String(error);

/** Told when the server no longer knows the session. */
let onSignedOut: () => void = () => undefined;
export const whenSignedOut = (then: () => void): void => {
  onSignedOut = then;
};

type Method = 'GET' | 'POST' | 'PUT' | 'DELETE';

/**
 * Asks the server.
 * @param signal gives the question up
 * @throws ApiError, and nothing else but where it was given up
 */
export async function api<T>(method: Method, path: string, body?: unknown, signal?: AbortSignal): Promise<T> {
  const raw = body instanceof Blob || body instanceof ArrayBuffer;
  const headers: Record<string, string> =
    body === undefined ? {} : { 'Content-Type': raw ? 'application/octet-stream' : 'application/json' };
  let response: Response;
  try {
    response = await fetch(path, {
      method,
      headers,
      credentials: 'same-origin',
      ...(body === undefined ? {} : { body: raw ? body : JSON.stringify(body) }),
      ...(signal ? { signal } : {}),
    });
  } catch (error) {
    if (signal?.aborted) throw error;
    // A question can be asked again; of what was to be written nobody knows whether it arrived.
    throw problem(0, {
      message:
        method === 'GET'
          ? 'The server cannot be reached. Check that it runs, and try again.'
          : 'The server went away before it answered. Whether this was written is not known: look again.',
      outcome: 'unknown',
    });
  }
  const text = await response.text();
  const json = readAnswer(text);
  if (response.ok) return json as T;
  if (response.status === 401 && path !== '/api/session') onSignedOut();
  throw problem(response.status, json);
}

/** An answer that is no JSON comes from something between here and the server. */
function readAnswer(text: string): Record<string, unknown> {
  try {
    return (text ? JSON.parse(text) : {}) as Record<string, unknown>;
  } catch {
    return {};
  }
}

/** Whether nobody knows if what was to be written was: the server or its database went away at that moment. */
export const isUnknown = (error: unknown): boolean => isApiError(error) && error.body.outcome === 'unknown';

/**
 * Hears events of the server as they come (server-sent events), and again after the line was cut.
 * @param then called with the data of each event of that name
 * @returns a function that stops hearing
 */
export function hearEvents<T>(path: string, name: string, then: (data: T) => void): () => void {
  const source = new EventSource(path);
  source.addEventListener(name, (event) => then(JSON.parse((event as MessageEvent<string>).data) as T));
  return () => source.close();
}

/** A problem found here, told like one of the server's. */
export const apiProblem = (message: string): ApiError => problem(0, { message });

const problem = (status: number, body: Record<string, unknown>): ApiError => ({
  apiError: true,
  status,
  message: typeof body.message === 'string' ? body.message : 'Something went wrong.',
  faults: Array.isArray(body.faults) ? (body.faults as Fault[]) : [],
  body,
});
