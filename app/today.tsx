import { later } from '../ui/components/later';

export default later(() => import('../ui/screens/TodayScreen').then((module) => module.TodayScreen));
