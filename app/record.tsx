import { later } from '../ui/components/later';

export default later(() => import('../ui/screens/RecordScreen').then((module) => module.RecordScreen));
