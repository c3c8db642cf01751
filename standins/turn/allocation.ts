import type { Socket as UdpSocket } from 'node:dgram';
import type { StunSocket } from '../../core/wire/stun';

/** Packets that one allocation relays each way within a second: ten calls. */
export const MOST_PACKETS = 1000;

/** By which way somebody is there: their socket and how to send to them. */
export interface Client {
  readonly key: string;
  readonly socket: StunSocket;
  readonly isStream: boolean;
  readonly send: (bytes: Uint8Array) => void;
}

export interface Allocation {
  readonly client: Client;
  readonly user: string;
  readonly relay: UdpSocket;
  /** Where its socket is; null: it is not there yet. */
  relayed: StunSocket | null;
  /** The transaction that made it: asked again, it is answered the same. */
  readonly transaction: string;
  expiresMs: number;
  /** By address: until when, ms. */
  readonly permissions: Map<string, number>;
  readonly channels: Map<number, { readonly peer: StunSocket; untilMs: number }>;
  readonly byPeer: Map<string, number>;
  second: number;
  packets: number;
}

export const keyOf = ({ address, port }: StunSocket) => `${address}:${port}`;

/** An allocation without a permission yet. */
export const newAllocation = (
  { client, user, relay, transaction }: Pick<Allocation, 'client' | 'user' | 'relay' | 'transaction'>,
  expiresMs: number,
): Allocation => ({
  client,
  user,
  relay,
  transaction,
  relayed: null,
  expiresMs,
  permissions: new Map(),
  channels: new Map(),
  byPeer: new Map(),
  second: 0,
  packets: 0,
});

/** Counts a packet that it relays. @returns how many within the running second */
export function countPacket(allocation: Allocation, atMs: number): number {
  const second = Math.floor(atMs / 1000);
  if (second !== allocation.second) {
    allocation.second = second;
    allocation.packets = 0;
  }
  allocation.packets += 1;
  return allocation.packets;
}

/** Permissions and channels that have run out are gone. */
export function forgetOld({ permissions, channels, byPeer }: Allocation, atMs: number): void {
  for (const [peer, untilMs] of permissions) if (untilMs <= atMs) permissions.delete(peer);
  for (const [channel, { peer, untilMs }] of channels)
    if (untilMs <= atMs) {
      channels.delete(channel);
      byPeer.delete(keyOf(peer));
    }
}
