export { emergencyNumbers } from './emergency';
export { ambiguities, type Ambiguity } from './ambiguities';
export { callingCode, classifier, classOf, type Classified } from './classes';
export { dialString } from './dial-string';
export {
  DIAL_FAULTS,
  dialReader,
  interpret,
  type DialFault,
  type DialNote,
  type DialReader,
  type Interpreted,
} from './interpret';
export { mayDial, mayDialBy, permissionsFor, REFUSED_WORDS, type MayDial } from './may-dial';
export { bareNumber, readNumber, showNumber, showNumbersIn, type ReadNumber } from './numbers';
export { NO_WAY_OUT, permits, trunksFor, wayOut, type NoWayOut } from './permissions';
export { dialledMaps, inForm, premiumPrefixes } from './number-maps';
export { extensionsOf } from './extensions';
export { groundCheck, type GroundCheck } from './ground';
export { readListed } from './listed';
export { localTelUri, sipUriOf, telUri } from './uri';
export { watchedAs } from './watched';
