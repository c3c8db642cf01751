import { later } from '../ui/components/later';

export default later(() => import('../ui/screens/ImportScreen').then((module) => module.ImportScreen));
