export { insertRound, patchRound, putNeverCall, putNumbers } from './queries';
export { neverCallRoutes } from './never-call';
export { roundNumberRoutes } from './number-routes';
export { roundRoutes } from './routes';
export { runRounds, type RunsRounds } from './run';
