export * from './config';
export * from './connection';
export { rightsTooWide } from './grants';
export { connect, isCluster } from './connect';
export { locked } from './lock';
export { migrate, readMigrations, statementsOf, UNDER_WAY, type Migration } from './migrate';
