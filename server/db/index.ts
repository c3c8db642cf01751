export * from './config';
export * from './connection';
export { rightsTooWide } from './grants';
export { connect } from './connect';
export { CLUSTER_LOCK, isCluster, locked } from './lock';
export { isConflict } from './faults';
export { migrate, readMigrations, statementsOf, UNDER_WAY, type Migration } from './migrate';
