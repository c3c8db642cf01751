import { useMemo } from 'react';
import { View } from 'react-native';
import { andList, type NetworkPhone } from '../../core/estate';
import {
  nameIn,
  recommend,
  REASON_WORDS,
  type RejectedWay,
  type SiteNetworkOf,
  type Way,
} from '../../core/network';
import { METHOD_NAMES } from '../../core/devices/phones';
import { Button, Fold, Section } from '../kit/parts';
import { space, usePalette } from '../kit/theme';
import { Words } from '../kit/Words';
import { TRANSPORT_WORDS } from './words';

const ASKS: Record<RejectedWay['question'], string> = {
  registers: 'it does not register',
  ringsAfter: 'it stops ringing',
  soundOut: 'others do not hear it',
  soundIn: 'it does not hear others',
  staysUp: 'calls end after 32 s',
};
const MOST_SHOWN = 3;
const kib = (bytes: number) => `${Math.round(bytes / 1024)} KiB`;

function WayRow({ way, onUse }: { readonly way: Way; readonly onUse: ((way: Way) => void) | null }) {
  const palette = usePalette();
  const facts = [
    way.keepAliveS === null ? null : `the keep-alive costs ${kib(way.bytesADay)} a day`,
    way.extraHops > 0
      ? `sound goes through ${way.extraHops} place${way.extraHops > 1 ? 's' : ''} more`
      : null,
    way.opens.length > 0 ? `${way.opens.length} port${way.opens.length > 1 ? 's are' : ' is'} opened` : null,
    way.dependsOn.length > 0 ? `depends on ${andList(way.dependsOn)}` : null,
  ].filter((fact) => fact !== null);
  return (
    <View
      role="listitem"
      style={{ gap: space(1), paddingVertical: space(2), borderTopWidth: 1, borderColor: palette.line }}
    >
      <Words strong>{`${METHOD_NAMES[way.method]}, over ${TRANSPORT_WORDS[way.transport]}`}</Words>
      <Words>{way.set.length === 0 ? 'Nothing has to be set.' : `Set ${andList(way.set)}.`}</Words>
      {facts.length > 0 ? (
        <Words
          size="small"
          tone="soft"
        >{`${facts.join('; ').replace(/^./, (first) => first.toUpperCase())}.`}</Words>
      ) : null}
      {onUse && way.opens.length === 0 ? (
        <View style={{ flexDirection: 'row' }}>
          <Button label="Set it so" onPress={() => onUse(way)} />
        </View>
      ) : null}
      {way.opens.length > 0 ? (
        <Words size="small" tone="soft">
          The ports are forwarded on the router itself; say so on the site’s network when it is done.
        </Words>
      ) : null}
    </View>
  );
}

/** Which methods work where a phone stands, best first, and the packet by which each other one fails. */
export function WaysPart({
  of,
  phone,
  onUse,
}: {
  readonly of: SiteNetworkOf;
  readonly phone: NetworkPhone;
  /** Sets a way; null: nothing can be set here. */
  readonly onUse: ((way: Way) => void) | null;
}) {
  const { ways, rejected } = useMemo(() => recommend(of.network, phone), [of.network, phone]);
  const nameOf = nameIn(of);
  const [first, others] = [ways.slice(0, MOST_SHOWN), ways.slice(MOST_SHOWN)];
  return (
    <Section title="What works here?">
      {ways.length === 0 ? (
        <Words>Nothing that the servers of the organisation allow works from here.</Words>
      ) : (
        <View role="list">
          {first.map((way) => (
            <WayRow
              key={`${way.method} ${way.transport} ${way.turnTransport ?? ''}`}
              way={way}
              onUse={onUse}
            />
          ))}
        </View>
      )}
      {others.length > 0 ? (
        <Fold title={`${others.length} more that work`}>
          <View role="list">
            {others.map((way) => (
              <WayRow
                key={`${way.method} ${way.transport} ${way.turnTransport ?? ''}`}
                way={way}
                onUse={onUse}
              />
            ))}
          </View>
        </Fold>
      ) : null}
      {rejected.length > 0 ? (
        <Fold title={`${rejected.length} that do not work, and why`}>
          <View role="list" style={{ gap: space(2) }}>
            {rejected.map((each) => (
              <Words
                key={`${each.method} ${each.transport}`}
                size="small"
                {...({ role: 'listitem' } as object)}
              >
                {`${METHOD_NAMES[each.method]}, over ${TRANSPORT_WORDS[each.transport]}: ${ASKS[each.question]}${
                  each.after ? ` after ${each.after} s` : ''
                }; ${REASON_WORDS[each.reason](each.at === undefined ? '' : nameOf(each.at))}.`}
              </Words>
            ))}
          </View>
        </Fold>
      ) : null}
    </Section>
  );
}
