import { useLocalSearchParams } from 'expo-router';
import { later } from '../../ui/kit/later';

const SafePhoneScreen = later(() => import('../../ui/rest').then((module) => module.SafePhoneScreen));

export default function SafePhone() {
  const { endpoint } = useLocalSearchParams<{ endpoint: string }>();
  return <SafePhoneScreen endpoint={endpoint} />;
}
