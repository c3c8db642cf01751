import { ANY_INSIDE_CALLER } from '../../core/calls/engine';
import { bareNumber, emergencyNumbers } from '../../core/calls/dialling';
import { header, parseNameAddr, type SipRequest } from '../../core/wire/sip';
import type { CallHost, SystemAccount } from './types';

/** Whether what was dialled is an emergency number of the organisation's country. */
export const isEmergency = ({ index }: CallHost, dialled: string): boolean =>
  emergencyNumbers(index.estate.dialling.country).includes(bareNumber(dialled));

/** From outside nobody calls as an extension, whatever they say: who shows one counts as withheld. */
export const outsideCaller = (
  from: string | null,
  { endpoint }: SystemAccount,
  { index }: CallHost,
): string | null =>
  endpoint === null && from !== null && !from.startsWith('+') && index.destinations.has(from) ? null : from;

/** Whether the carrier says that it has verified the caller's number (SHAKEN; 3GPP TS 24.229, 7.2A.20). */
export const isVerified = (request: SipRequest): boolean =>
  ['P-Asserted-Identity', 'From'].some((name) => {
    const params = parseNameAddr(header(request, name) ?? '')?.uri.params;
    return params?.verstat === 'TN-Validation-Passed';
  });

/** Who calls: a trunk says so in From, a phone is known by its account. */
export function callerOf(request: SipRequest, account: SystemAccount, { index }: CallHost): string | null {
  if (account.endpoint === null) {
    const from = parseNameAddr(header(request, 'From') ?? '')?.uri.user ?? '';
    return /^\+?\d{1,20}$/.test(from) ? from : null;
  }
  const owner = index.endpoints.get(account.endpoint)?.owner;
  // A shared desk’s phone that nobody is signed on at calls inside, as nobody.
  return owner?.lines[0]?.extension ?? (account.desk === undefined ? null : ANY_INSIDE_CALLER);
}
