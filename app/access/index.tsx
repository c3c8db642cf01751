import { later } from '../../ui/kit/later';

export default later(() => import('../../ui/rest').then((module) => module.AccessNumbersScreen));
