import { useLocalSearchParams } from 'expo-router';
import { later } from '../../../ui/kit/later';

const SetUpScreen = later(() => import('../../../ui/rest').then((module) => module.SetUpScreen));

export default function SetUp() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <SetUpScreen id={id} />;
}
