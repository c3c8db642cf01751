import { View } from 'react-native';
import type { Peer } from '../../core/estate';
import { Tick } from '../kit/parts';
import { Words } from '../kit/Words';

/** Some of the systems, in the order in which they were ticked; none is told as undefined. */
export function PeerTicks({
  title,
  peers,
  ticked = [],
  onChange,
}: {
  readonly title: string;
  readonly peers: readonly Peer[];
  readonly ticked: readonly string[] | undefined;
  readonly onChange: (ticked: readonly string[] | undefined) => void;
}) {
  return (
    <View>
      <Words size="small" tone="soft">
        {title}
      </Words>
      {peers.map(({ id, name }) => (
        <Tick
          key={id}
          label={name}
          on={ticked.includes(id)}
          onPress={() => {
            const next = ticked.includes(id) ? ticked.filter((each) => each !== id) : [...ticked, id];
            onChange(next.length > 0 ? next : undefined);
          }}
        />
      ))}
    </View>
  );
}
