import { useLocalSearchParams } from 'expo-router';
import { later } from '../../ui/kit/later';

const MenuScreen = later(() => import('../../ui/rest').then((module) => module.MenuScreen));

export default function Menu() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <MenuScreen id={id} />;
}
