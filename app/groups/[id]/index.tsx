import { useLocalSearchParams } from 'expo-router';
import { later } from '../../../ui/kit/later';

const GroupScreen = later(() => import('../../../ui/rest').then((module) => module.GroupScreen));

export default function Group() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <GroupScreen id={id} />;
}
