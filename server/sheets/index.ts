export { sheetAsPdf } from './pdf';
export { sheetRoutes } from './routes';
