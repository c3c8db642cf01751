import { useLocalSearchParams } from 'expo-router';
import { later } from '../../ui/kit/later';

const TemplateScreen = later(() => import('../../ui/rest').then((module) => module.TemplateScreen));

export default function Status() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <TemplateScreen id={id} />;
}
