import { useLocalSearchParams } from 'expo-router';
import { later } from '../../ui/components/later';

const PhoneScreen = later(() => import('../../ui/screens/rest').then((module) => module.PhoneScreen));

export default function Phone() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <PhoneScreen id={id} />;
}
