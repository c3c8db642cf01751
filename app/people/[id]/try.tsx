import { useLocalSearchParams } from 'expo-router';
import { later } from '../../../ui/kit/later';

const TryScreen = later(() => import('../../../ui/rest').then((module) => module.TryScreen));

export default function Try() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <TryScreen id={id} />;
}
