import { useLocalSearchParams } from 'expo-router';
import { later } from '../../ui/kit/later';

const SeatScreen = later(() => import('../../ui/rest').then((module) => module.SeatScreen));

export default function SeatPage() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <SeatScreen id={id} />;
}
