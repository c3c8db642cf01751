import { useLocalSearchParams } from 'expo-router';
import { later } from '../../ui/kit/later';

const DeviceScreen = later(() => import('../../ui/rest').then((module) => module.DeviceScreen));

export default function Device() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <DeviceScreen id={id} />;
}
