import { useLocalSearchParams } from 'expo-router';
import { later } from '../../../ui/kit/later';

const LoadScreen = later(() => import('../../../ui/rest').then((module) => module.LoadScreen));

export default function Load() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <LoadScreen id={id} />;
}
