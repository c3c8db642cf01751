import { useLocalSearchParams } from 'expo-router';
import { later } from '../../ui/kit/later';

const PhoneScreen = later(() => import('../../ui/rest').then((module) => module.PhoneScreen));

export default function Phone() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <PhoneScreen id={id} />;
}
