export * from './config';
export * from './connection';
export { rightsTooWide } from './grants';
export { locked, migrate, readMigrations, statementsOf, UNDER_WAY, type Migration } from './migrate';
