import { readPidfLo } from '../../core/emergency';
import { endpointTimes, type Civic } from '../../core/estate';
import { header, parseNameAddr, readMultipart, type SipRequest } from '../../core/wire/sip';
import type { Clock } from '../sip/clock';
import { openPhone, type Phone } from './phone';

/** What arrived at the emergency desk of the carrier. */
export interface EmergencyArrived {
  /** What was dialled. */
  readonly number: string;
  /** The number to call back; null: it was withheld. */
  readonly callerId: string | null;
  /** The place that came with the call; null: none did. */
  readonly civic: Civic | null;
  /** Why a place that came cannot be read; null: it can, or none came. */
  readonly fault: string | null;
  /** The Geolocation headers as they came (RFC 6442). */
  readonly geolocation: string | null;
  readonly routing: string | null;
}

/** Reads the place of an emergency call: the part of its body that Geolocation names. */
export function arrivedOf(number: string, request: SipRequest): EmergencyArrived {
  const from = parseNameAddr(header(request, 'From') ?? '')?.uri.user ?? '';
  const geolocation = header(request, 'Geolocation') ?? null;
  const base = {
    number,
    callerId: /^\+?\d{1,20}$/.test(from) ? from : null,
    geolocation,
    routing: header(request, 'Geolocation-Routing') ?? null,
  };
  const parts = readMultipart(header(request, 'Content-Type') ?? '', request.body);
  const cid = /^<cid:([^>]+)>/i.exec(geolocation ?? '')?.[1];
  if (cid === undefined) return { ...base, civic: null, fault: null };
  const part = parts?.find(({ id }) => id === cid);
  if (!part) return { ...base, civic: null, fault: 'Geolocation names a part that is not there' };
  const read = readPidfLo(Buffer.from(part.body, 'latin1').toString('utf8'));
  return read.ok
    ? { ...base, civic: read.location.civic, fault: null }
    : { ...base, civic: null, fault: `the place ${read.message}` };
}

const MANNER = {
  behaviour: { state: 'auto-answer' as const },
  times: { ...endpointTimes({ kind: 'landline' }), setupMs: 300 },
  isPublic: true,
  says: 'emergency desk',
};

/** The emergency desk of the carrier: answers at once, and tells what arrived. */
export const openEmergencyDesk = (
  address: string,
  clock: Clock,
  onArrived: (arrived: EmergencyArrived) => void,
): Promise<Phone> =>
  openPhone({
    address,
    clock,
    manner: (number, asked) => {
      onArrived(arrivedOf(number, asked.request));
      return MANNER;
    },
  });
