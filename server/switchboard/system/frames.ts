import { createHmac, randomBytes, timingSafeEqual } from 'node:crypto';
import type { Socket } from 'node:net';
import { deserialize, serialize } from 'node:v8';

/** Octets of one frame at most, and how much may wait to be read by the other end before it is given up. */
const MOST_FRAME = 64 * 2 ** 20;
const MOST_WAITING = 128 * 2 ** 20;
const NONCE = 32;
const MAC = 32;

const macOf = (token: string, side: 'asks' | 'answers', nonce: Uint8Array): Buffer =>
  createHmac('sha256', token).update(side).update(nonce).digest();

/** What whoever comes in says first: a number drawn by chance, and that it knows the token. */
export function greeting(token: string): { readonly bytes: Buffer; readonly answer: Buffer } {
  const nonce = randomBytes(NONCE);
  return {
    bytes: Buffer.concat([nonce, macOf(token, 'asks', nonce)]),
    answer: macOf(token, 'answers', nonce),
  };
}
export const GREETING = { asks: NONCE + MAC, answers: MAC } as const;

/** The answer to a greeting by somebody who knows the token; null: it was by somebody else. */
export function answerTo(said: Buffer, token: string): Buffer | null {
  const nonce = said.subarray(0, NONCE);
  const wanted = macOf(token, 'asks', nonce);
  const mac = said.subarray(NONCE);
  if (mac.length !== wanted.length || !timingSafeEqual(mac, wanted)) return null;
  return macOf(token, 'answers', nonce);
}

/** Writes a value as one frame; an end that does not read what it is sent is let go of. */
export function sendFrame(socket: Socket, value: unknown): void {
  if (socket.destroyed) return;
  const body = serialize(value);
  const head = Buffer.alloc(4);
  head.writeUInt32BE(body.length);
  socket.cork();
  socket.write(head);
  socket.write(body);
  socket.uncork();
  if (socket.writableLength > MOST_WAITING) socket.destroy();
}

/** null: these octets are no value. */
function readFrame(bytes: Buffer): { readonly value: unknown } | null {
  try {
    return { value: deserialize(bytes) };
  } catch {
    return null;
  }
}

/**
 * Reads a greeting of a fixed length, then frames.
 * @param first octets of the greeting
 * @param onFirst @returns whether to go on
 */
export function readFrames(
  socket: Socket,
  first: number,
  onFirst: (bytes: Buffer) => boolean,
  onFrame: (value: unknown) => void,
): void {
  let parts: Buffer[] = [];
  let size = 0;
  let wanted = first;
  let step: 'first' | 'head' | 'body' = 'first';
  const take = (): Buffer => {
    const all = parts.length === 1 ? parts[0]! : Buffer.concat(parts, size);
    const taken = all.subarray(0, wanted);
    parts = all.length > wanted ? [all.subarray(wanted)] : [];
    size -= wanted;
    return taken;
  };
  socket.on('data', (part) => {
    parts.push(part);
    size += part.length;
    while (size >= wanted && !socket.destroyed) {
      const bytes = take();
      if (step === 'first') {
        if (!onFirst(bytes)) return void socket.destroy();
        [step, wanted] = ['head', 4];
      } else if (step === 'head') {
        const length = bytes.readUInt32BE();
        if (length === 0 || length > MOST_FRAME) return void socket.destroy();
        [step, wanted] = ['body', length];
      } else {
        [step, wanted] = ['head', 4];
        const frame = readFrame(bytes);
        if (!frame) return void socket.destroy();
        onFrame(frame.value);
      }
    }
  });
}
