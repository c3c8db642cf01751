import { useLocalSearchParams } from 'expo-router';
import { later } from '../../ui/kit/later';

const NumberScreen = later(() => import('../../ui/rest').then((module) => module.NumberScreen));

export default function Number() {
  const { number } = useLocalSearchParams<{ number: string }>();
  return <NumberScreen number={number} />;
}
