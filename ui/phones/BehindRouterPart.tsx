import { View } from 'react-native';
import type { Registration } from '../../api/phones';
import { lostWords, type WayLost } from '../../core/network';
import { LinkRow, LinkRows } from '../kit/parts';
import { Words } from '../kit/Words';
import { clockOf } from './words';

const packetWords = (packet: string): string =>
  packet === '' ? 'a packet' : /^\d/.test(packet) ? `the answer ${packet}` : packet;

/** How a phone that stands behind a router is seen from outside, and what its router let go of last. */
export function BehindRouterPart({
  registrations,
  lost,
}: {
  readonly registrations: readonly Registration[];
  readonly lost: WayLost | undefined;
}) {
  const seen = registrations.flatMap((each) => (each.seen ? [each.seen] : []));
  if (seen.length === 0 && !lost) return null;
  return (
    <View style={{ gap: 4 }}>
      {seen.map(({ address, port }) => (
        <Words key={`${address}:${port}`} size="small">
          {`It stands behind a router: from outside it is ${address}:${port}.`}
        </Words>
      ))}
      {lost ? (
        <>
          <Words size="small" tone="rust">
            {`${clockOf(lost.atMs)}: ${packetWords(lost.packet)} was lost on its way.`}
          </Words>
          <Words size="small" tone="soft" mono>
            {lostWords(lost.lost)}
          </Words>
          <LinkRows>
            <LinkRow href={`/networks/${lost.site}`} title="What works in this network" />
          </LinkRows>
        </>
      ) : null}
    </View>
  );
}
