import type { Request } from 'express';
import type { AnySchema } from 'yup';
import { faultsOf, type Fault } from '../../core/estate';
import type { Db } from '../db';
import type { EstateStore } from '../estate/store';
import type { Switchboard } from '../phones/switchboard';
import type { Keyring } from '../secrets/keyring';
import type { Streams } from './streams';

export const ROLES = ['specialist', 'help-desk', 'manager'] as const;
/** Those who sign in to look after themselves only. */
export const STAFF = 'staff';
export type Role = (typeof ROLES)[number] | typeof STAFF;
export const EVERY_ROLE: readonly Role[] = [...ROLES, STAFF];

export interface Account {
  readonly id: number;
  readonly name: string;
  readonly role: Role;
  /** Of staff: whose own page it is. */
  readonly person: string | null;
  /** The session that is used. */
  readonly session: number;
}

/** What the server's parts work with. */
export interface Services {
  readonly db: Db;
  readonly store: EstateStore;
  readonly now: () => Date;
  readonly secrets: Keyring;
  readonly phones: Switchboard;
  /** Where the service of phones that set themselves up listens over TLS, with its certificate; null: nowhere. */
  readonly tls: () => { readonly port: number; readonly cert: string } | null;
  readonly streams: Streams;
}

export interface RouteContext {
  readonly services: Services;
  readonly request: Request;
  readonly params: Readonly<Record<string, string>>;
  readonly query: Readonly<Record<string, string | undefined>>;
  readonly body: unknown;
}
export type SignedIn = RouteContext & { readonly account: Account };

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
  /** Events as they come (server-sent events), until the browser goes; `onClosed` is then called. */
  readonly stream?: (send: SendEvent, onClosed: (then: () => void) => void) => void;
}

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

/** Refuses for now. @param seconds after how long it is worth another try */
export const busy = (message: string, seconds: number): Refusal =>
  refusal(503, message, { headers: { 'Retry-After': String(seconds) } });

export const isRefusal = (error: unknown): error is Refusal =>
  typeof error === 'object' && error !== null && 'refusal' in error && error.refusal === true;

/** A request's body as the schema has it; refuses the request with the faults if it is not. */
export function checkedBody<T>(body: unknown, schema: AnySchema): T {
  const faults = faultsOf(schema, body);
  if (faults.length > 0) throw refusal(400, 'Some of this is not right.', { faults });
  return body as T;
}
