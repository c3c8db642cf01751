import { isSameText, sealedWith } from '../sip/seal';

/** How long a nonce may be used, in ms. */
const NONCE_MS = 3_600_000;

/** Nonces that carry their time and prove themselves, so that giving them out costs no memory however often it is done. */
export function nonces(secret: Uint8Array, now: () => number) {
  const seal = sealedWith(secret);
  return {
    fresh: (): string => {
      const told = Math.floor(now()).toString(36);
      return `${told}.${seal(told)}`;
    },
    /** Whether it was given out here, and not too long ago. */
    holds: (nonce: string): boolean => {
      const end = nonce.indexOf('.');
      const told = nonce.slice(0, Math.max(0, end));
      const age = now() - Number.parseInt(told, 36);
      return end > 0 && isSameText(nonce.slice(end + 1), seal(told)) && age >= 0 && age <= NONCE_MS;
    },
  };
}
