export { ownSystem } from './link';
export type { Begun, OpenSystem, SharedState, SystemLink } from './link';
export { sharedSystem } from './shared';
