export * from './types';
export { changesOf, versionsOf, type Versions } from './impact';
export { schedulesOf } from './cases';
export { groupChanges, impactNames, sayChangeOf, sayEnd, type ImpactNames } from './words';
export { dropOuts, type DropOut } from './drop-out';
