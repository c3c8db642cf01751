import { useLocalSearchParams } from 'expo-router';
import { later } from '../../../ui/kit/later';

const WrongScreen = later(() => import('../../../ui/rest').then((module) => module.WrongScreen));

export default function Wrong() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <WrongScreen id={id} />;
}
