import { View } from 'react-native';
import { Slot, useGlobalSearchParams } from 'expo-router';
import { PeopleList } from '../../ui/people/PeopleList';
import { useIsVeryWide, useIsWide, usePalette } from '../../ui/kit/theme';

/** On a wide screen the list stays beside the person; while nobody is chosen it is a table with all the width. */
export default function PeopleLayout() {
  const palette = usePalette();
  const wide = useIsWide();
  const veryWide = useIsVeryWide();
  const { id } = useGlobalSearchParams<{ id?: string }>();
  if (!wide || id === undefined) return <Slot />;
  return (
    <View style={{ flex: 1, flexDirection: 'row' }}>
      <View style={{ width: veryWide ? 330 : 280, borderRightWidth: 1, borderColor: palette.line }}>
        <PeopleList selected={id} />
      </View>
      <View style={{ flex: 1, minWidth: 0 }}>
        <Slot />
      </View>
    </View>
  );
}
