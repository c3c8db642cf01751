import { useLocalSearchParams } from 'expo-router';
import { later } from '../../ui/components/later';

const DeviceScreen = later(() => import('../../ui/screens/rest').then((module) => module.DeviceScreen));

export default function Device() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <DeviceScreen id={id} />;
}
