export { changePerson, writePerson, type Told } from './change';
export { diagnosisRoutes } from './diagnosis';
export { phoneRoutes as personPhoneRoutes } from './phones';
export { peopleRoutes } from './routes';
