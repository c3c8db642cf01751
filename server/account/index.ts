export { authRoutes, letIn, openRoutes, sessionToken } from './routes';
