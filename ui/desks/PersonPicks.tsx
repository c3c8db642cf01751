import { View } from 'react-native';
import { usePeople } from '../data/people';
import { PersonSearch } from '../edit/Search';
import { IconButton } from '../kit/parts';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';

/** Some people, by search; each can be taken out again. */
export function PersonPicks({
  people,
  onChange,
}: {
  readonly people: readonly string[];
  readonly onChange: (people: readonly string[]) => void;
}) {
  const known = usePeople();
  const nameOf = (id: string) => known.data?.people.find((each) => each.id === id)?.name ?? id;
  return (
    <View style={{ gap: space(1) }}>
      {people.map((id) => (
        <View key={id} style={{ flexDirection: 'row', alignItems: 'center', gap: space(2) }}>
          <Words style={{ flex: 1 }}>{nameOf(id)}</Words>
          <IconButton
            icon="close"
            label={`Take ${nameOf(id)} out`}
            onPress={() => onChange(people.filter((each) => each !== id))}
          />
        </View>
      ))}
      <PersonSearch
        label="Let somebody in by name"
        onPick={(id) => {
          if (!people.includes(id)) onChange([...people, id]);
        }}
      />
    </View>
  );
}
