import { createHmac } from 'node:crypto';

/** A seal on a text that whoever has the secret can prove: a nonce so sealed costs no memory however often one is given out. */
export const sealedWith =
  (secret: Uint8Array) =>
  (text: string): string =>
    createHmac('sha256', secret).update(text).digest('base64url').slice(0, 22);

/** Whether two texts are the same, in a time that does not tell where they differ. */
export function isSameText(a: string, b: string): boolean {
  if (a.length !== b.length) return false;
  let differ = 0;
  for (let at = 0; at < a.length; at += 1) differ |= a.charCodeAt(at) ^ b.charCodeAt(at);
  return differ === 0;
}
