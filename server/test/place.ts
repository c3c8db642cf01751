import type { SystemPlace } from '../../api/phones';

/** Where a phone system would be, for tests that need none that runs. */
export const PLACE: SystemPlace = {
  realm: 'hostler',
  wanted: 0,
  address: '127.0.0.1',
  udp: 5060,
  tcp: 5060,
  tls: 5061,
};
