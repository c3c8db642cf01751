import { readlinkSync } from 'node:fs';

/** Stand-ins speak only over loopback, so that nothing of a test ever leaves the machine. */
const isLoopback = (host: string): boolean => /^127(?:\.\d{1,3}){3}$/.test(host);

/**
 * Whether this process was started in a network namespace of its own, which has no way out: whoever starts it so says
 * which one it is to be apart from.
 */
const isApart = ((): boolean => {
  const outer = process.env.HOSTLER_OUTER_NAMESPACE;
  if (outer === undefined) return false;
  try {
    const own = readlinkSync('/proc/self/ns/net');
    return /^net:\[\d+\]$/.test(outer) && own !== outer;
  } catch {
    return false;
  }
})();

/** Whether a stand-in may listen on an address and send to it. */
export const mayUse = (host: string): boolean => isLoopback(host) || isApart;
