export * from './text-file';
export * from './csv';
export * from './staff-csv';
