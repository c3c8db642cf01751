import { later } from '../ui/components/later';

export default later(() => import('../ui/screens/RoutesScreen').then((module) => module.RoutesScreen));
