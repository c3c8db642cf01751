import { useLocalSearchParams } from 'expo-router';
import { later } from '../../../ui/components/later';

const TryScreen = later(() => import('../../../ui/screens/rest').then((module) => module.TryScreen));

export default function Try() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <TryScreen id={id} />;
}
