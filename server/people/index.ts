export { changePerson } from './change';
export { diagnosisRoutes } from './diagnosis';
export { peopleRoutes } from './routes';
