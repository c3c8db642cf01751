import { useLocalSearchParams } from 'expo-router';
import { later } from '../../ui/kit/later';

const SiteScreen = later(() => import('../../ui/rest').then((module) => module.SiteScreen));

export default function Site() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <SiteScreen id={id} />;
}
