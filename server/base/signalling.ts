import type { EstateIndex } from '../../core/calls/engine';
import type { CarriedMessage } from '../../core/calls/live';
import { writePcap } from '../../core/formats';
import { maskSip } from '../../core/privacy';
import type { Account } from './account';
import type { Reply } from './reply';

/** Whether private numbers in messages are masked: for all but a specialist, and for one who asks so. */
export const mustMask = ({
  account,
  query,
}: {
  readonly account: Account;
  readonly query: Readonly<Record<string, string | undefined>>;
}): boolean => account.role !== 'specialist' || query.masked === '1';

/** The messages of a call as they are shown, in the order of time. */
export function shownMessages(
  messages: readonly CarriedMessage[],
  index: EstateIndex,
  masked: boolean,
): readonly CarriedMessage[] {
  const isOwn = (number: string) => index.destinations.has(number);
  return messages.map((each) => (masked ? { ...each, bytes: maskSip(each.bytes, isOwn) } : each));
}

const peerOf = (address: string) => {
  const at = address.lastIndexOf(':');
  return { host: address.slice(0, at), port: Number(address.slice(at + 1)) };
};

/**
 * Messages as a packet capture, to be saved.
 * @param beganMs when the call began, ms since 1970
 * @param speed how many ms of the call went by in one real ms
 * @param file its name, without the ending
 */
export const captureOf = (
  messages: readonly CarriedMessage[],
  { beganMs, speed = 1, file }: { readonly beganMs: number; readonly speed?: number; readonly file: string },
): Reply => ({
  bytes: Buffer.from(
    writePcap(
      messages.map(({ atMs, from, to, bytes }) => ({
        epochMs: beganMs + Math.max(0, atMs) / speed,
        from: peerOf(from),
        to: peerOf(to),
        payload: Buffer.from(bytes, 'latin1'),
      })),
    ),
  ),
  headers: {
    'Content-Type': 'application/vnd.tcpdump.pcap',
    'Content-Disposition': `attachment; filename="${file}.pcap"`,
  },
});
