import type { ReactNode } from 'react';
import { View } from 'react-native';
import { useRouter } from 'expo-router';
import { showNumber, showNumbersIn } from '../../core/calls/dialling';
import type { Judgement } from '../../core/calls/views';
import type { Person } from '../../core/estate';
import { IconButton, ReachMark } from '../kit/parts';
import { space, useIsWide } from '../kit/theme';
import { Words } from '../kit/Words';

/** Who it is, how they can be reached and why not, and what there is to do. */
export function PersonHead({
  person,
  judgement,
  actions,
}: {
  readonly person: Person;
  readonly judgement: Judgement | null;
  readonly actions: ReactNode;
}) {
  const wide = useIsWide();
  const router = useRouter();
  const line = person.lines[0];
  return (
    <>
      <View
        style={{
          flexDirection: 'row',
          alignItems: 'flex-start',
          padding: space(4),
          paddingLeft: wide ? space(4) : space(1),
          gap: space(2),
        }}
      >
        {wide ? null : (
          <IconButton icon="back" label="Back to the list" onPress={() => router.navigate('/people')} />
        )}
        <View style={{ flex: 1, gap: 2 }}>
          <Words size="page" strong heading={1}>
            {person.name}
          </Words>
          <Words mono size="small" tone="soft">
            {[line?.extension, ...(line?.numbers ?? []).map(showNumber)].filter(Boolean).join('  ')}
          </Words>
        </View>
        {judgement && !wide ? (
          <View style={{ paddingTop: space(2) }}>
            <ReachMark state={judgement.state} />
          </View>
        ) : null}
        {wide ? (
          <View style={{ flexDirection: 'row', gap: space(2), alignItems: 'center' }}>
            {judgement ? <ReachMark state={judgement.state} /> : null}
            {actions}
          </View>
        ) : null}
      </View>
      {judgement && judgement.state !== 'reached' ? (
        <View style={{ paddingHorizontal: space(4), paddingBottom: space(2) }}>
          <Words tone={judgement.state === 'lost' ? 'rust' : 'ochre'} strong>
            {showNumbersIn(judgement.why)}
          </Words>
        </View>
      ) : null}
    </>
  );
}
