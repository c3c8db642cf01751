import { useLocalSearchParams } from 'expo-router';
import { StatusScreen } from '../../ui/screens/StatusScreen';

export default function Status() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <StatusScreen id={id} />;
}
