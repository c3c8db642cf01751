import { useLocalSearchParams } from 'expo-router';
import { GroupScreen } from '../../ui/screens/GroupScreen';

export default function Group() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <GroupScreen id={id} />;
}
