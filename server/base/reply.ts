/** Sends one event to the browser, masked for whom it must be. */
export type SendEvent = (name: string, data: unknown) => void;

export interface Reply {
  readonly status?: number;
  readonly body?: unknown;
  readonly headers?: Readonly<Record<string, string | readonly string[]>>;
  /** Sent as it is, with the type that the headers give. */
  readonly text?: string;
  /** Sent as they are, likewise. */
  readonly bytes?: Buffer;
  /** Sent bit by bit, as fast as the far end takes it; what goes wrong on the way breaks the connection off. */
  readonly chunks?: AsyncIterable<string>;
  /** Events as they come (server-sent events), until the browser goes; `onClosed` is then called. */
  readonly stream?: (send: SendEvent, onClosed: (then: () => void) => void) => void;
}
