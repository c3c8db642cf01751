import type { Request } from 'express';
import type { AnySchema } from 'yup';
import type { Call, Trace } from '../../core/calls/engine';
import { faultsOf } from '../../core/estate';
import type { CallOutAt } from '../../standins/system';
import type { Db } from '../db';
import type { EstateStore } from '../estate';
import type { Switchboard } from '../switchboard';
import type { Keyring } from '../secrets';
import { type Account, type Role, notRight, type Reply } from '../base';
import type { News } from './news';
import type { Streams } from './streams';

/** A call that is going on, as far as it has come. */
export interface CallGoingOn {
  readonly startMs: number;
  readonly call: Call;
  readonly trace: Trace | null;
  readonly settled: { readonly trace: Trace; readonly atMs: number } | null;
  /** Set for a call out that no plan steers: how far it has come. */
  readonly out?: CallOutAt;
}

/** What a server knows of itself. */
export interface ServerSelf {
  /** This start of it, as it is noted in the database; null: it is not. */
  readonly run: number | null;
  /** Where records of calls wait to be taken in. */
  readonly spool: string | null;
  /** Whether it is about to end, and should get no new requests. */
  readonly isEnding: boolean;
}

/** What the server's parts work with. */
export interface Services {
  readonly db: Db;
  /** The database as the account that call records are kept by. */
  readonly keeper: Db;
  /** Calls that are going on over this server’s phone system, by their ids. */
  readonly calls: () => ReadonlyMap<string, CallGoingOn>;
  readonly store: EstateStore;
  readonly now: () => Date;
  readonly secrets: Keyring;
  readonly phones: Switchboard;
  /** Where the service of provisioned phones listens over TLS, with its certificate; null: nowhere. */
  readonly tls: () => { readonly port: number; readonly cert: string } | null;
  readonly streams: Streams;
  /** What changes in the database, whichever server writes it. */
  readonly news: News;
  readonly self: ServerSelf;
}

export interface RouteContext {
  readonly services: Services;
  readonly request: Request;
  readonly params: Readonly<Record<string, string>>;
  readonly query: Readonly<Record<string, string | undefined>>;
  readonly body: unknown;
  /** Aborted once whoever asks has gone away: what is worked out for them alone need not go on. */
  readonly gone: AbortSignal;
}
export type SignedIn = RouteContext & { readonly account: Account };

interface RouteBase {
  readonly method: 'GET' | 'POST' | 'PUT' | 'DELETE';
  readonly path: string;
  /** Takes its body as raw bytes rather than JSON. */
  readonly rawBody?: boolean;
  /** A JSON body of some mebibytes is taken. */
  readonly isLong?: boolean;
  /** The most bytes of a body, where it is not what is usual (`BODY_LIMITS`). */
  readonly limit?: number;
  /** Sends private numbers to those for whom they are masked elsewhere; such a route keeps a record. */
  readonly unmasked?: boolean;
}

/** One route of the interface between browser and server, with who may use it. */
export interface Route extends RouteBase {
  readonly roles: readonly Role[];
  readonly handle: (context: SignedIn) => Promise<Reply>;
}
/** A route that needs nobody to be signed in. */
export interface OpenRoute extends RouteBase {
  readonly roles: 'everybody';
  readonly handle: (context: RouteContext) => Promise<Reply>;
}

/** A request's body as the schema has it; refuses the request with the faults if it is not. */
export function checkedBody<T>(body: unknown, schema: AnySchema): T {
  const faults = faultsOf(schema, body);
  if (faults.length > 0) throw notRight(faults);
  return body as T;
}
