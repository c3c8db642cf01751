import { View } from 'react-native';
import { DateTime } from 'luxon';
import { zoneNamed } from '../../core/zones';
import { messageOf } from '../data/api';
import { useRegistrationHistory } from '../data/phones';
import { useZone } from '../data/session';
import { Fold, Skeleton } from '../kit/parts';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';

const STATE_WORDS = {
  registered: 'registered',
  removed: 'signed off',
  expired: 'was lost: it stopped refreshing',
  stopped: 'not registered: the phone system stopped',
} as const;

function Changes({ endpoint }: { readonly endpoint: string }) {
  const zone = useZone();
  const history = useRegistrationHistory(endpoint);
  if (history.isError) return <Words tone="rust">{messageOf(history.error)}</Words>;
  if (history.isPending) return <Skeleton rows={2} />;
  const { changes } = history.data;
  if (changes.length === 0) return <Words tone="soft">Nothing is known yet.</Words>;
  return (
    <View role="list" style={{ gap: space(1) }}>
      {changes.map(({ at, state, transport }, i) => (
        <Words key={i} size="small" {...({ role: 'listitem' } as object)}>
          {`${DateTime.fromISO(at, { zone: zoneNamed(zone) })
            .setLocale('en')
            .toFormat('ccc d LLL, HH:mm:ss')}  ${STATE_WORDS[state]}${
            state === 'registered' && transport ? ` over ${transport.toUpperCase()}` : ''
          }`}
        </Words>
      ))}
    </View>
  );
}

/** When a phone was registered and when no more: what “it did not ring yesterday” is held against. */
export function RegistrationHistoryPart({ endpoint }: { readonly endpoint: string }) {
  return (
    <Fold title="When it was registered">
      <View style={{ paddingHorizontal: space(4) }}>
        <Changes endpoint={endpoint} />
      </View>
    </Fold>
  );
}
