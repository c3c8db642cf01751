export { stateCode } from './quick-leg';
export { type QuickRunner, quickRunner } from './quick';
