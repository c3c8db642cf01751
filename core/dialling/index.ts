export { ambiguities, type Ambiguity } from './ambiguities';
export { classifier, classOf, type Classified } from './classes';
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
export { mayDial, mayDialBy, permissionsFor, type MayDial } from './may-dial';
export { readNumber, showNumber, showNumbersIn, type ReadNumber } from './numbers';
export { NO_WAY_OUT, permits, trunksFor, wayOut, type NoWayOut } from './permissions';
