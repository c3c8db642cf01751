import type { NetworkPhone } from '../estate';
import { phoneToPhone } from './phone-to-phone';
import { sounding } from './sound';
import { addressChange, ringing } from './timeline';
import { type Topology, topologyOf } from './topology';
import type { Network, PathVerdicts } from './types';

/** The phones on a branch relay that fall silent with it. */
const hangOn = ({ network }: Topology, relay: NetworkPhone): readonly string[] =>
  network.phones
    .filter((each) => each.method === 'branch-relay' && each.relay === relay.id && each.in === relay.in)
    .map(({ id }) => id);

/** Answers all that is asked of one phone; of its calls with another phone too, if one is named. */
export function verdictsOf(topology: Topology, phone: NetworkPhone, other?: NetworkPhone): PathVerdicts {
  const { registers, ringsAfter, worksUntil } = ringing(topology, phone);
  return {
    phone: phone.id,
    registers,
    ringsAfter,
    worksUntil,
    ...sounding(topology, phone),
    ...(other ? { phoneToPhone: phoneToPhone(topology, phone, other) } : {}),
    survives: { addressChange: addressChange(topology, phone), relayStops: hangOn(topology, phone) },
  };
}

/** The verdicts of each phone of a network. */
export function networkVerdicts(network: Network): readonly PathVerdicts[] {
  const topology = topologyOf(network);
  return network.phones.map((phone) => verdictsOf(topology, phone));
}
