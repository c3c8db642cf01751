export { changeDevice } from './change-device';
export { objectRoutes } from './routes';
