export { restartDue } from './due';
export { noteRunning, putRunning, readRunning } from './queries';
export { restartRoutes } from './routes';
