import { useLocalSearchParams } from 'expo-router';
import { later } from '../../../ui/kit/later';

const PersonScreen = later(() => import('../../../ui/rest').then((module) => module.PersonScreen));

export default function Person() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <PersonScreen id={id} />;
}
