export * from './types';
export { changesOf, versionsOf, type Versions } from './ripple';
export { schedulesOf } from './cases';
export { groupChanges, rippleNames, sayChangeOf, sayEnd, type RippleNames } from './words';
