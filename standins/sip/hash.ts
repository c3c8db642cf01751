import { hash } from 'node:crypto';
import type { HexHash } from '../../core/wire/sip';

/** The hash of a byte string, as digest authentication needs it. */
export const hexHash: HexHash = (algorithm, bytes) =>
  hash(algorithm === 'MD5' ? 'md5' : 'sha256', isAscii(bytes) ? bytes : Buffer.from(bytes, 'latin1'), 'hex');

/** Plain ASCII is the same in UTF-8, and need not be copied. */
const isAscii = (bytes: string) => !/[\u0080-\u00ff]/.test(bytes);
