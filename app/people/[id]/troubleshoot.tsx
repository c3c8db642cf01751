import { useLocalSearchParams } from 'expo-router';
import { later } from '../../../ui/kit/later';

const TroubleshootScreen = later(() =>
  import('../../../ui/rest').then((module) => module.TroubleshootScreen),
);

export default function Troubleshoot() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <TroubleshootScreen id={id} />;
}
