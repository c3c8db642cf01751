import { useLocalSearchParams } from 'expo-router';
import { later } from '../../ui/kit/later';

const CallScreen = later(() => import('../../ui/rest').then((module) => module.CallScreen));

export default function CallPage() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <CallScreen id={id} />;
}
