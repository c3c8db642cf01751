import { isIPv4 } from 'node:net';

const numberOf = (address: string) => address.split('.').reduce((sum, part) => sum * 256 + Number(part), 0);

/** Whether an IPv4 address lies in a range, "a.b.c.d/n". */
export function inRange(address: string, range: string): boolean {
  const [base = '', bits = '32'] = range.split('/');
  const size = 2 ** (32 - Number(bits));
  return Math.floor(numberOf(address) / size) === Math.floor(numberOf(base) / size);
}

/**
 * Addresses to which a relay must lead nobody: this machine, private networks and those of special use (RFC 6890), so
 * that nothing inside is reached by way of it.
 */
const CLOSED = [
  '0.0.0.0/8',
  '10.0.0.0/8',
  '100.64.0.0/10',
  '127.0.0.0/8',
  '169.254.0.0/16',
  '172.16.0.0/12',
  '192.0.0.0/24',
  '192.168.0.0/16',
  '224.0.0.0/3',
] as const;

/** Whether a relay may send to an address: not into a closed range, but where it is allowed by name. */
export const mayRelayTo = (address: string, allow: readonly string[]): boolean =>
  isIPv4(address) &&
  (allow.some((range) => inRange(address, range)) || !CLOSED.some((range) => inRange(address, range)));
