import { useLocalSearchParams } from 'expo-router';
import { later } from '../../../ui/components/later';

const PersonScreen = later(() => import('../../../ui/screens/rest').then((module) => module.PersonScreen));

export default function Person() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <PersonScreen id={id} />;
}
