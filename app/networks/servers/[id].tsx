import { useLocalSearchParams } from 'expo-router';
import { later } from '../../../ui/kit/later';

const ServerScreen = later(() => import('../../../ui/rest').then((module) => module.ServerScreen));

export default function Server() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <ServerScreen id={id} />;
}
