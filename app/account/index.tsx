import { later } from '../../ui/components/later';

export default later(() => import('../../ui/screens/rest').then((module) => module.AccountScreen));
