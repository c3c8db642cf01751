import { lookup as lookUp } from 'node:dns/promises';
import { BlockList, isIPv4 } from 'node:net';

/** Where the probe does not go by itself: places inside, which a name from outside could be made to lead to. */
const INSIDE: readonly (readonly [says: string, network: string, bits: number])[] = [
  ['a loopback address', '127.0.0.0', 8],
  ['a private address', '10.0.0.0', 8],
  ['a private address', '172.16.0.0', 12],
  ['a private address', '192.168.0.0', 16],
  ['a shared address', '100.64.0.0', 10],
  ['a link-local address', '169.254.0.0', 16],
];
/** Where it never goes. */
const NEVER: readonly (readonly [says: string, network: string, bits: number])[] = [
  ['no address of a host', '0.0.0.0', 8],
  ['a special address', '192.0.0.0', 24],
  ['an address for measurements', '198.18.0.0', 15],
  ['a multicast address', '224.0.0.0', 4],
  ['a reserved address', '240.0.0.0', 4],
];
const LEAST_BITS = 16;

const holds = (network: string, bits: number, address: string): boolean => {
  const list = new BlockList();
  list.addSubnet(network, bits);
  return list.check(address);
};

/** A range of addresses as it is written, `10.20.0.0/16`; null: it is none, wider than that, or not one inside. */
export function readRange(text: string): { readonly network: string; readonly bits: number } | null {
  const [, network = '', mask = ''] = /^(\d{1,3}(?:\.\d{1,3}){3})\/(\d{1,2})$/.exec(text.trim()) ?? [];
  const bits = Number(mask);
  if (!isIPv4(network) || bits < LEAST_BITS || bits > 32) return null;
  return INSIDE.some(([, inside, wide]) => bits >= wide && holds(inside, wide, network))
    ? { network, bits }
    : null;
}

/**
 * Why an address is not asked, in words; null: it may be.
 * @param allowed ranges inside that the organisation has allowed
 */
export function addressFault(address: string, allowed: readonly string[]): string | null {
  if (!isIPv4(address)) return 'is no IPv4 address';
  const never = NEVER.find(([, network, bits]) => holds(network, bits, address));
  if (never) return `is ${never[0]}: it is not asked`;
  const inside = INSIDE.find(([, network, bits]) => holds(network, bits, address));
  if (!inside) return null;
  const isAllowed = allowed.some((text) => {
    const range = readRange(text);
    return range !== null && holds(range.network, range.bits, address);
  });
  return isAllowed ? null : `is ${inside[0]}: it is asked only once its range is allowed`;
}

/**
 * The one address that a name leads to, looked up once: what is checked is what is asked, so that a name cannot lead
 * elsewhere between the two.
 */
export async function addressOf(
  host: string,
  allowed: readonly string[],
  look: (name: string) => Promise<string> = async (name) => (await lookUp(name, { family: 4 })).address,
): Promise<{ readonly address: string } | { readonly why: string }> {
  let address = host;
  if (!isIPv4(host))
    try {
      address = await look(host);
    } catch {
      return { why: 'the name is not known' };
    }
  const fault = addressFault(address, allowed);
  return fault === null ? { address } : { why: isIPv4(host) ? fault : `leads to ${address}, which ${fault}` };
}
