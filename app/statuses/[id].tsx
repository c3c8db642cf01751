import { useLocalSearchParams } from 'expo-router';
import { later } from '../../ui/kit/later';

const StatusScreen = later(() => import('../../ui/rest').then((module) => module.StatusScreen));

export default function Status() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <StatusScreen id={id} />;
}
