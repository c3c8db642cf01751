import { useLocalSearchParams } from 'expo-router';
import { later } from '../../ui/kit/later';

const RoundScreen = later(() => import('../../ui/rest').then((module) => module.RoundScreen));

export default function Round() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <RoundScreen id={Number(id)} />;
}
