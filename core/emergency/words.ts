import type { Civic } from '../estate';
import type { PlaceBasis, PlaceFault } from './place';

/** An address on one line: house and street, floor and where in it, city, province, postal code, country. */
export function sayCivic(civic: Civic): string {
  const { country, A1, A3, RD, STS, HNO, HNS, LOC, FLR, PC, NAM, BLD, ROOM } = civic;
  const street = [`${HNO ?? ''}${HNS ?? ''}`, RD, STS].filter(Boolean).join(' ');
  const inside = [LOC, FLR ? `floor ${FLR}` : '', ROOM ? `room ${ROOM}` : ''].filter(Boolean).join(', ');
  return [NAM, BLD, street, inside, A3, A1, PC, country].filter(Boolean).join(', ');
}

const BASES: Readonly<Record<PlaceBasis, string>> = {
  'site-of-phone': 'the phone stands there',
  'address-range': 'it is registered from an address of the site',
  said: 'its owner said so',
  unknown: 'nothing is known',
};
export const sayBasis = (basis: PlaceBasis): string => BASES[basis];

const FAULTS: Readonly<Record<PlaceFault, string>> = {
  unknown: 'Nobody knows where it is',
  stale: 'What was said is older than 90 days, or it is registered from elsewhere now',
  'no-civic': 'The site has no address that can be sent',
  'trunk-elsewhere': 'Emergency calls leave by another trunk than the site’s own',
  'call-back-elsewhere': 'A call back to the number that is shown does not ring it now',
};
export const sayPlaceFault = (fault: PlaceFault): string => FAULTS[fault];
