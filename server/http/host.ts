import type { IncomingHttpHeaders } from 'node:http';

/** The names under which this server may be called, so that no foreign name can be pointed at it. */
export const isOwnHost = (host: string | undefined): boolean => {
  const name = (host ?? '').replace(/:\d+$/, '');
  return ['127.0.0.1', 'localhost', '[::1]', process.env.HOSTLER_HOSTNAME].includes(name);
};

const isLoopback = (address: string): boolean => {
  const from = address.replace(/^::ffff:/, '');
  return from === '::1' || /^127(\.\d{1,3}){3}$/.test(from);
};

/** What a proxy puts before a request that it passes on. */
const PASSED_ON = [
  'forwarded',
  'x-forwarded-for',
  'x-forwarded-proto',
  'x-forwarded-host',
  'via',
  'x-real-ip',
];

/**
 * Whether nobody can listen in: over TLS, or within this machine from end to end. What a proxy on this machine passes
 * on comes from elsewhere.
 */
export function isPrivate(
  socket: { readonly encrypted?: boolean; readonly remoteAddress?: string | undefined },
  headers: IncomingHttpHeaders,
): boolean {
  if (socket.encrypted === true) return true;
  return isLoopback(socket.remoteAddress ?? '') && !PASSED_ON.some((name) => headers[name] !== undefined);
}
