import { useLocalSearchParams } from 'expo-router';
import { later } from '../../ui/kit/later';

const DeskScreen = later(() => import('../../ui/rest').then((module) => module.DeskScreen));

export default function Desk() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <DeskScreen id={id} />;
}
