import type { Dialling, E164 } from '../../estate';
import { callingCode } from './classes';

/** What the system sends to reach a number: the digits with the outside code and prefixes. */
export function dialString(e164: E164, dialling: Dialling): string {
  const digits = e164.slice(1);
  const home = callingCode(dialling.country);
  if (home === null || !digits.startsWith(home))
    return dialling.outsideCode + dialling.internationalPrefix + digits;
  const national = digits.slice(home.length);
  const local = dialling.areaCodes.some((code) => national.startsWith(code));
  return (
    dialling.outsideCode + (local && !dialling.localWithPrefix ? '' : dialling.nationalPrefix) + national
  );
}
