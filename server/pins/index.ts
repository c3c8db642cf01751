export { checkPin, pinBound } from './check';
export { readPinDates, readPinHash } from './queries';
export { removePin, setPin } from './set';
