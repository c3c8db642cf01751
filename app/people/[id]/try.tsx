import { useLocalSearchParams } from 'expo-router';
import { TryScreen } from '../../../ui/screens/TryScreen';

export default function Try() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <TryScreen id={id} />;
}
