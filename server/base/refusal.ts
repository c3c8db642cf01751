import type { Fault } from '../../core/estate';

/** Refuses a request; thrown from a handler, it is told to the browser as it is. */
export interface Refusal {
  readonly refusal: true;
  readonly status: number;
  readonly message: string;
  readonly faults?: readonly Fault[];
  readonly extra?: object;
  readonly headers?: Readonly<Record<string, string>>;
}

export const refusal = (
  status: number,
  message: string,
  more: {
    faults?: readonly Fault[];
    extra?: object;
    headers?: Readonly<Record<string, string>>;
  } = {},
): Refusal => ({
  refusal: true,
  status,
  message,
  ...more,
});

/** Refuses what was sent, with what is wrong about each field. */
export const notRight = (faults: readonly Fault[]): Refusal =>
  refusal(400, 'Some of this is not right.', { faults });

/** Refuses for now. @param seconds after how long it is worth another try */
export const busy = (message: string, seconds: number): Refusal =>
  refusal(503, message, { headers: { 'Retry-After': String(seconds) } });

export const isRefusal = (error: unknown): error is Refusal =>
  typeof error === 'object' && error !== null && 'refusal' in error && error.refusal === true;
