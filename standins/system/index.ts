export type { HeldWish } from './held-types';
export { PLACED_IN } from './placed-in';
export { openSystem } from './system';
export { type Pins, type PinVerdict } from './confirm';
export { EXPIRY, type Binding, type RegistrarEvent } from './registrar';
export type {
  CallBack,
  CallBackAt,
  CallBackStep,
  CallIn,
  CallLadder,
  CallOutAt,
  AccessCalled,
  CodeDialled,
  CodeReply,
  DialOut,
  EmergencyAnswer,
  PhoneSystem,
  ServerManner,
  RoundCall,
  RoundCallEnded,
  SoundHeard,
  SystemAccount,
  SystemEvent,
  SystemOptions,
} from './types';
