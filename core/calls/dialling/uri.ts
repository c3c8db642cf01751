import type { E164 } from '../../estate';

/** A number as a `tel:` URI (RFC 3966, section 5.1.4): global, without visual separators. */
export const telUri = (e164: E164): string => `tel:${e164}`;

/**
 * A local number, such as an extension, as a `tel:` URI: it means something only in its context.
 * @param context a domain, or the global number that it hangs from (RFC 3966, section 5.1.5)
 */
export const localTelUri = (digits: string, context: string): string =>
  `tel:${digits};phone-context=${context}`;

/** A number at a host as a SIP URI that says that it is a telephone number (RFC 3261, section 19.1.6). */
export const sipUriOf = (e164: E164, host: string): string => `sip:${e164}@${host};user=phone`;
