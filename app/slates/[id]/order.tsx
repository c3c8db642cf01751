import { useLocalSearchParams } from 'expo-router';
import { later } from '../../../ui/kit/later';

const OrderScreen = later(() => import('../../../ui/rest').then((module) => module.OrderScreen));

export default function Order() {
  const { id } = useLocalSearchParams<{ id: string }>();
  return <OrderScreen id={id} />;
}
