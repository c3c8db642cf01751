import { onceFor, type Device, type Estate, type NatMethod } from '../../estate';
import type { CheckContext } from './types';

export const METHOD_WORDS: Record<NatMethod, string> = {
  direct: 'nothing at all',
  'manual-public-address': 'a public address entered by hand',
  stun: 'STUN',
  ice: 'ICE',
  turn: 'TURN',
  'border-controller': 'a session border controller',
  'branch-relay': 'a branch relay',
  vpn: 'a VPN',
};

/** How a phone as a thing is spoken of: "Hana Jessamy’s Yard phone", or the device's own name. */
export function whoseIs(device: Device, { owner, endpoint }: CheckContext): string {
  const person = device.endpoint === undefined ? undefined : owner(device.endpoint);
  const label = device.endpoint === undefined ? undefined : endpoint(device.endpoint)?.label;
  return person && label ? `${person.name}’s ${label}` : device.name;
}

const bySite = onceFor((devices: readonly Device[]): ReadonlyMap<string, readonly Device[]> => {
  const at = new Map<string, Device[]>();
  for (const device of devices) {
    if (device.site === undefined) continue;
    const there = at.get(device.site);
    if (there) there.push(device);
    else at.set(device.site, [device]);
  }
  return at;
});
/** The phones that stand at a site. */
export const devicesAt = ({ devices = [] }: Pick<Estate, 'devices'>, site: string): readonly Device[] =>
  bySite(devices).get(site) ?? [];

/** A length of time in words: hours, then days. */
export function sinceWords(ms: number): string {
  const hours = Math.floor(ms / 3_600_000);
  return hours < 48 ? `${hours} hours` : `${Math.floor(hours / 24)} days`;
}
