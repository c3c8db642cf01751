import { View } from 'react-native';
import { useRouter } from 'expo-router';
import type { Person } from '../../core/estate';
import { useCanEdit } from '../data/session';
import { space } from '../kit/theme';
import { Button, Section } from '../kit/parts';

/** What else can be done about a person, each on a page of its own. */
export function MorePart({ person }: { readonly person: Person }) {
  const router = useRouter();
  const canEdit = useCanEdit();
  const id = encodeURIComponent(person.id);
  return (
    <Section title="More">
      <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: space(2) }}>
        <Button label="Troubleshoot" onPress={() => router.navigate(`/people/${id}/troubleshoot`)} />
        <Button label="Answer times" onPress={() => router.navigate(`/people/${id}/times`)} />
        <Button label="Whole set-up" onPress={() => router.navigate(`/people/${id}/set-up`)} />
        <Button label="In the record" onPress={() => router.navigate(`/record?person=${id}`)} />
        {canEdit ? <Button label="Leaves" onPress={() => router.navigate(`/people/${id}/leave`)} /> : null}
      </View>
    </Section>
  );
}
