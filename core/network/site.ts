import type { NetworkPhone } from '../estate';
import type { PlacedPhone, SiteNetworkOf } from './assemble';
import { recommend, type Way } from './recommend';
import { topologyOf } from './topology';
import type { PathVerdicts } from './types';
import { verdictsOf } from './verdicts';
import { nameIn, pathAnswers, type PathAnswer } from './words';

/** One phone of a site, and what comes of its packets. */
export interface PhoneAnswers {
  readonly placed: PlacedPhone;
  readonly phone: NetworkPhone;
  readonly answers: readonly PathAnswer[];
  readonly worksUntil: PathVerdicts['worksUntil'];
}

/**
 * What tells phones of a site apart for their packets: all but their names, and their addresses only where a forward
 * leads to one.
 */
function likeness(
  { network }: SiteNetworkOf,
  { id: _id, name: _name, address, ...rest }: NetworkPhone,
): string {
  const isForwardedTo = network.boxes.some(({ forwards }) => forwards.some(({ to }) => to === address));
  return JSON.stringify([rest, isForwardedTo ? address : null]);
}

/** What comes of the packets of each phone of a site; of phones that are alike one is gone through. */
export function siteAnswers(of: SiteNetworkOf): readonly PhoneAnswers[] {
  const topology = topologyOf(of.network);
  const nameOf = nameIn(of);
  const phones = new Map(of.network.phones.map((phone) => [phone.id, phone]));
  const known = new Map<string, PathVerdicts>();
  return of.phones.flatMap((placed) => {
    const phone = phones.get(placed.id);
    if (!phone) return [];
    const key = likeness(of, phone);
    const verdicts = known.get(key) ?? verdictsOf(topology, phone);
    known.set(key, verdicts);
    // Where a packet died at the phone that was gone through, it dies at this one.
    const named = (id: string) => nameOf(id === verdicts.phone ? phone.id : id);
    return [{ placed, phone, answers: pathAnswers(verdicts, named), worksUntil: verdicts.worksUntil }];
  });
}

/** The best way for phones of a site, found once for those that are alike. */
export function bestWays(
  of: SiteNetworkOf,
): (phone: NetworkPhone, fits: (way: Way) => boolean) => Way | null {
  const known = new Map<string, readonly Way[]>();
  return (phone, fits) => {
    const key = likeness(of, { ...phone, method: 'direct', transport: 'udp', keepAliveS: null, rport: true });
    const ways = known.get(key) ?? recommend(of.network, phone).ways;
    known.set(key, ways);
    return ways.find(fits) ?? null;
  };
}
