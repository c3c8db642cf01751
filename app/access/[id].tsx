import { useLocalSearchParams } from 'expo-router';
import { later } from '../../ui/kit/later';

const AccessScreen = later(() => import('../../ui/rest').then((module) => module.AccessScreen));

export default function AccessPage() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <AccessScreen id={id} />;
}
