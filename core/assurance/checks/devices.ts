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

/** Devices by one of their fields, worked out once for a list of them. */
const devicesBy = (field: 'site' | 'endpoint') =>
  onceFor((devices: readonly Device[]): ReadonlyMap<string, readonly Device[]> => {
    const by = new Map<string, Device[]>();
    for (const device of devices) {
      const key = device[field];
      if (key === undefined) continue;
      const known = by.get(key);
      if (known) known.push(device);
      else by.set(key, [device]);
    }
    return by;
  });
const [bySite, byEndpoint] = [devicesBy('site'), devicesBy('endpoint')];
const NONE: readonly Device[] = [];
/** The phones that stand at a site. */
export const devicesAt = ({ devices = NONE }: Pick<Estate, 'devices'>, site: string): readonly Device[] =>
  bySite(devices).get(site) ?? NONE;
/** What a phone is as a thing. @param endpoint its id */
export const devicesOf = ({ devices = NONE }: Pick<Estate, 'devices'>, endpoint: string): readonly Device[] =>
  byEndpoint(devices).get(endpoint) ?? NONE;

/** A length of time in words: hours, then days. */
export function sinceWords(ms: number): string {
  const hours = Math.floor(ms / 3_600_000);
  return hours < 48 ? `${hours} hours` : `${Math.floor(hours / 24)} days`;
}
