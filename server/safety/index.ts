export { emergencyAnswer } from './emergency';
export { safetyRoutes } from './routes';
