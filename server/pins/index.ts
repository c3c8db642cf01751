export { checkPin, pinBound } from './check';
export { readPinDates, readPinHash } from './queries';
export { setPin } from './set';
