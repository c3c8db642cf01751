export * from './connection';
export { rightsTooWide } from './grants';
export { locked, migrate, readMigrations, statementsOf, type Migration } from './migrate';
