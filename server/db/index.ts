export * from './config';
export * from './connection';
export { rightsTooWide } from './grants';
export { connect, isCluster, isReady, nodesOf } from './connect';
export { locked } from './lock';
export { migrate, readMigrations, statementsOf, UNDER_WAY, type Migration } from './migrate';
