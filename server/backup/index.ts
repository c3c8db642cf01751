export { backUp, type BackedUp } from './back-up';
export { readManifest, type Manifest } from './manifest';
export { restore, type Restored } from './restore';
