import { useLocalSearchParams } from 'expo-router';
import { later } from '../../../ui/kit/later';

const PersonTimesScreen = later(() => import('../../../ui/rest').then((module) => module.PersonTimesScreen));

export default function Times() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <PersonTimesScreen id={id} />;
}
