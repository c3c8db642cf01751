import { useLocalSearchParams } from 'expo-router';
import { later } from '../../../ui/kit/later';

const SlateScreen = later(() => import('../../../ui/rest').then((module) => module.SlateScreen));

export default function Slate() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <SlateScreen id={id} />;
}
