import { INTERNET, type Box, type NetworkPhone, type Server } from '../../core/estate';
import { isPrivate, type Network } from '../../core/network';

/** A network whose places that are seen from the internet are on loopback, so that real packets can go between them. */
export interface Staged {
  readonly network: Network;
  /** What an address stands for, as the network was given; itself, where it is no place of the internet. */
  readonly meantBy: (address: string) => string;
}

/** Where a server of a staged network really is: by the address at which it is known outside. */
export const realOf = (server: Server): string => (server.in === INTERNET ? server.address : server.public);

/**
 * Puts what is seen from the internet on loopback; private addresses behind boxes stay as they are.
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
  /** Whether what stands there is seen outside by its own address: there is no NAT before it. */
  const isOpen = (place: string, steps = network.boxes.length): boolean => {
    if (place === INTERNET) return true;
    const box = network.boxes.find(({ id }) => id === place);
    return box !== undefined && !box.nat && steps > 0 && isOpen(box.in, steps - 1);
  };
  const isSeen = ({ in: place }: Box | NetworkPhone | Server, address: string): boolean =>
    isOpen(place) && (place === INTERNET || !isPrivate(address));
  const boxes = network.boxes.map((box) =>
    isSeen(box, box.outside) ? { ...box, outside: at(box.outside) } : box,
  );
  const servers = network.servers.map((server) => ({
    ...server,
    ...(isSeen(server, server.address) ? { address: at(server.address) } : {}),
    public: at(server.public),
  }));
  const phones = network.phones.map((phone) => ({
    ...phone,
    ...(isSeen(phone, phone.address) ? { address: at(phone.address) } : {}),
    ...(phone.manual
      ? { manual: { ...phone.manual, address: names.get(phone.manual.address) ?? phone.manual.address } }
      : {}),
  }));
  return {
    network: { ...network, boxes, servers, phones },
    meantBy: (address) => back.get(address) ?? address,
  };
}
