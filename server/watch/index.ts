export { examine, type Checked } from './doctor';
export { openMetrics, type Metrics } from './metrics';
export { requestId } from './request-id';
export { openTraces, type Traces } from './traces';
export { watchRoutes } from './routes';
export { beginRun, type Run } from './runs';
