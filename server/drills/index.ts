export { putDrill, readDrills } from './queries';
export { drillRoutes } from './routes';
