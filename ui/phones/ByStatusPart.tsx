import type { PhoneRow } from '../../api/phones';
import { View } from 'react-native';
import { messageOf } from '../data/api';
import { useByStatus, useSetCallsFrom } from '../data/phones';
import { useRole } from '../data/session';
import { space, usePalette } from '../kit/theme';
import { Refused, Section, Skeleton, Tick, Trouble } from '../kit/parts';
import { Words } from '../kit/Words';

/** Whether this phone rings and places its person's calls, status by status. */
export function ByStatusPart({ row }: { readonly row: PhoneRow }) {
  const palette = usePalette();
  const role = useRole();
  const statuses = useByStatus(row.person);
  const set = useSetCallsFrom(row.person);
  if (statuses.isError)
    return <Trouble message={messageOf(statuses.error)} retry={() => void statuses.refetch()} />;
  return (
    <Section title="By status">
      {statuses.isPending ? <Skeleton rows={3} /> : null}
      <View role="list">
        {statuses.data?.map(({ status, name, rings, callsFrom, isChosen }) => {
          const ring = rings.find(({ endpoint }) => endpoint === row.endpoint);
          const isHere = callsFrom === row.endpoint;
          return (
            <View
              role="listitem"
              key={status}
              style={{
                flexDirection: 'row',
                alignItems: 'center',
                gap: space(3),
                borderBottomWidth: 1,
                borderColor: palette.line,
                paddingVertical: space(1),
              }}
            >
              <View style={{ flex: 1 }}>
                <Words strong>{name}</Words>
                <Words size="small" tone={ring ? 'kelp' : 'soft'}>
                  {`${ring ? `rings here after ${Math.round(ring.afterMs / 100) / 10} s` : 'does not ring here'}${isHere && !isChosen ? '; none is chosen to place calls, so this does' : ''}`}
                </Words>
              </View>
              {role === 'manager' ? (
                <Words size="small">{isHere ? 'places the calls' : ''}</Words>
              ) : (
                <Tick
                  label="Places calls"
                  on={isHere}
                  onPress={() => set.mutate({ status, endpoint: isHere && isChosen ? null : row.endpoint })}
                />
              )}
            </View>
          );
        })}
      </View>
      <Refused error={set.error} />
    </Section>
  );
}
