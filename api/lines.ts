import type { LineFigures, LineMapping } from '../core/quality';

/** With what a browser measures its line: a relay, and STUN servers, as RFC 7064 and 7065 write them. */
export interface LineTools {
  readonly relays: {
    readonly udp: readonly string[];
    readonly tcp: readonly string[];
    readonly tls: readonly string[];
  };
  readonly stun: readonly string[];
  readonly username: string;
  readonly credential: string;
  readonly until: string;
}

/** By which way the relay was reached: the first of these that works. */
export const LINE_WAYS = ['udp', 'tcp', 'tls'] as const;
export type LineWay = (typeof LINE_WAYS)[number];

/** What was measured; figures null: the relay was not reached at all. */
export interface LineMeasured {
  readonly by: LineWay | null;
  readonly figures: LineFigures | null;
  readonly mapping: LineMapping | null;
  /** The address that the world sees; null: not seen, or a private one. */
  readonly outside: string | null;
}

export interface LineCheck extends LineMeasured {
  readonly id: number;
  readonly at: string;
  readonly person: string;
  readonly name: string;
  readonly site: string | null;
  /** Where it was, in words. */
  readonly place: string;
}
