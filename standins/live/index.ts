export { tryHome } from './home';
export { runLive, TOLERANCE_REAL_MS, type LiveOptions, type LiveResult } from './stage';
