import { useLocalSearchParams } from 'expo-router';
import { later } from '../../ui/kit/later';

const HoursScreen = later(() => import('../../ui/rest').then((module) => module.HoursScreen));

export default function Hours() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <HoursScreen id={id} />;
}
