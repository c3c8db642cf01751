import { createSocket } from 'node:dgram';
import { connect, type Socket as Stream } from 'node:net';
import type { Socket } from '../../core/estate';
import { mayUse } from './reachable';

/** As much of a UDP socket as stand-ins use, the machine's own or one inside a home. */
export interface Datagrams {
  bind(port: number, address: string, done: () => void): unknown;
  on(event: 'message', hear: (data: Buffer, from: Socket) => void): unknown;
  on(event: 'error', hear: (error: Error) => void): unknown;
  once(event: 'error', hear: (error: Error) => void): unknown;
  off(event: 'error', hear: (error: Error) => void): unknown;
  address(): Socket;
  /** @param done called with an error where it is known at once that it gets nowhere */
  send(data: Uint8Array | string, port: number, host: string, done?: (error?: Error | null) => void): void;
  close(done?: () => void): unknown;
  getSendQueueCount(): number;
}

/** Where a stand-in stands, and how it gets out from there. */
export interface Ground {
  readonly datagrams: () => Datagrams;
  /** Opens a TCP connection from an address of its own. */
  readonly connect: (to: Socket, from: string) => Stream;
  /** Whether it may listen there and send there. */
  readonly mayUse: (host: string) => boolean;
}

/** Only addresses are sent to, and they need no looking up. */
const asItIs = (
  host: string,
  _options: unknown,
  found: (error: null, address: string, family: number) => void,
) => found(null, host, 4);

/** The machine itself, on loopback. */
export const MACHINE: Ground = {
  datagrams: () => createSocket({ type: 'udp4', recvBufferSize: 1 << 21, lookup: asItIs }),
  connect: ({ address, port }, from) => connect({ host: address, port, localAddress: from }),
  mayUse,
};
