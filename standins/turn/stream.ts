import type { Socket } from 'node:net';
import { cutStunStream } from '../../core/wire/stun';
import { keyOf, type Client } from './allocation';

const STREAM_IDLE_MS = 60_000;
/** Octets that wait to be read by who asked for them, at most. */
const MOST_WAITING = 1 << 20;

/** Cuts what comes over a stream into messages and channel data, each whole; a stream of something else is ended. */
export function onPieces(stream: Socket, onPiece: (piece: Uint8Array) => void): void {
  let rest: Uint8Array = new Uint8Array(0);
  stream.on('error', () => stream.destroy());
  stream.on('data', (data: Buffer) => {
    const cut = cutStunStream(rest.length === 0 ? data : Buffer.concat([rest, data]));
    rest = cut.rest;
    for (const piece of cut.pieces) onPiece(piece);
    if (cut.isBroken) stream.destroy();
  });
}

/** Somebody who is there by a stream. @param onPiece each message or channel data of it, whole */
export function clientOfStream(stream: Socket, onPiece: (client: Client, piece: Uint8Array) => void): Client {
  const socket = { address: stream.remoteAddress ?? '', port: stream.remotePort ?? 0 };
  const client: Client = {
    key: `tcp:${keyOf(socket)}`,
    socket,
    isStream: true,
    send: (bytes) => {
      // Who does not read what was asked for is not waited for.
      if (stream.writableLength > MOST_WAITING) stream.destroy();
      else if (!stream.destroyed) stream.write(bytes);
    },
  };
  stream.setNoDelay(true);
  stream.setTimeout(STREAM_IDLE_MS, () => stream.destroy());
  onPieces(stream, (piece) => onPiece(client, piece));
  return client;
}
