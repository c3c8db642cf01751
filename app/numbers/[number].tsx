import { useLocalSearchParams } from 'expo-router';
import { NumberScreen } from '../../ui/screens/NumberScreen';

export default function Number() {
  const { number } = useLocalSearchParams<{ number: string }>();
  return <NumberScreen number={number} />;
}
