import { useLocalSearchParams } from 'expo-router';
import { HoursScreen } from '../../ui/screens/HoursScreen';

export default function Hours() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <HoursScreen id={id} />;
}
