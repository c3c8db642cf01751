export * from './types';
export { drillFaults, readDrills, type ReadDrills } from './schema';
export { runDrill, runDrills, sayExpected } from './run';
export { drillOf } from './keep';
