import { useLocalSearchParams } from 'expo-router';
import { later } from '../../../ui/kit/later';

const LeaveScreen = later(() => import('../../../ui/rest').then((module) => module.LeaveScreen));

export default function Leave() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <LeaveScreen id={id} />;
}
