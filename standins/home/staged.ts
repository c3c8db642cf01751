import { INTERNET, type Box, type NetworkPhone, type Server } from '../../core/estate';
import type { Network } from '../../core/network';

/** A network whose places on the internet are on loopback, so that real packets can go between them. */
export interface Staged {
  readonly network: Network;
  /** What an address stands for, as the network was given; itself, where it is no place of the internet. */
  readonly meantBy: (address: string) => string;
}

/**
 * Puts what stands on the internet on loopback; private addresses stay as they are.
 * @param next the next free loopback address
 */
export function staged(network: Network, next: () => string): Staged {
  const names = new Map<string, string>();
  const back = new Map<string, string>();
  const at = (address: string): string => {
    const known = names.get(address);
    if (known !== undefined) return known;
    const name = next();
    names.set(address, name);
    back.set(name, address);
    return name;
  };
  const inNet = <T extends Box | NetworkPhone | Server>(each: T): boolean => each.in === INTERNET;
  const boxes = network.boxes.map((box) => (inNet(box) ? { ...box, outside: at(box.outside) } : box));
  const servers = network.servers.map((server) => ({
    ...server,
    ...(inNet(server) ? { address: at(server.address) } : {}),
    public: at(server.public),
  }));
  const phones = network.phones.map((phone) => ({
    ...phone,
    ...(inNet(phone) ? { address: at(phone.address) } : {}),
    ...(phone.manual
      ? { manual: { ...phone.manual, address: names.get(phone.manual.address) ?? phone.manual.address } }
      : {}),
  }));
  return {
    network: { ...network, boxes, servers, phones },
    meantBy: (address) => back.get(address) ?? address,
  };
}
