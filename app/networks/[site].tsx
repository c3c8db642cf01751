import { useLocalSearchParams } from 'expo-router';
import { later } from '../../ui/kit/later';

const NetworkScreen = later(() => import('../../ui/rest').then((module) => module.NetworkScreen));

export default function Network() {
  const { site } = useLocalSearchParams<{ site: string }>();
  return <NetworkScreen id={site} />;
}
