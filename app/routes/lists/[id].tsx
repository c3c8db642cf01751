import { useLocalSearchParams } from 'expo-router';
import { later } from '../../../ui/kit/later';

const ListScreen = later(() => import('../../../ui/rest').then((module) => module.ListScreen));

export default function Group() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <ListScreen id={id} />;
}
