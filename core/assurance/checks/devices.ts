import type { Device, Estate, NatMethod } from '../../estate';
import type { CheckContext, Subject } from './types';

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

/** A phone as a thing, with how it is spoken of. */
export interface SeenDevice {
  readonly device: Device;
  readonly subject: Subject;
  /** "Hana Jessamy’s Yard phone", or the device's own name. */
  readonly whose: string;
}

export const devicesIn = ({ estate, owner, endpoint }: CheckContext): readonly SeenDevice[] =>
  (estate.devices ?? []).map((device) => {
    const person = device.endpoint === undefined ? undefined : owner(device.endpoint);
    const label = device.endpoint === undefined ? undefined : endpoint(device.endpoint)?.label;
    return {
      device,
      subject: { kind: 'device' as const, id: device.id, name: device.name },
      whose: person && label ? `${person.name}’s ${label}` : device.name,
    };
  });

/** The phones that stand at a site. */
export const devicesAt = ({ devices = [] }: Estate, site: string): readonly Device[] =>
  devices.filter((each) => each.site === site);

/** A length of time in words: hours, then days. */
export function sinceWords(ms: number): string {
  const hours = Math.floor(ms / 3_600_000);
  return hours < 48 ? `${hours} hours` : `${Math.floor(hours / 24)} days`;
}
