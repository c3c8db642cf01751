export * from './connection';
export { migrate, readMigrations, type Migration } from './migrate';
