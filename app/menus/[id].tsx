import { useLocalSearchParams } from 'expo-router';
import { MenuScreen } from '../../ui/screens/MenuScreen';

export default function Menu() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <MenuScreen id={id} />;
}
