import { View } from 'react-native';
import { space } from './theme';
import { Words } from './Words';

/** What must hold, each with whether it does; null: nobody has said. */
export function Marks({
  items,
}: {
  readonly items: readonly { readonly id: string; readonly holds: boolean | null; readonly says: string }[];
}) {
  return (
    <View role="list" style={{ gap: space(1) }}>
      {items.map(({ id, holds, says }) => (
        <View key={id} role="listitem" style={{ flexDirection: 'row', gap: space(2) }}>
          <Words strong tone={holds ? 'kelp' : holds === null ? 'ochre' : 'rust'} style={{ width: 90 }}>
            {holds ? '▰ holds' : holds === null ? '▱ not known' : '▱ not yet'}
          </Words>
          <Words style={{ flex: 1 }}>{says}</Words>
        </View>
      ))}
    </View>
  );
}
