export { openSystem } from './system';
export { type Pins, type PinVerdict } from './confirm';
export type { Binding, RegistrarEvent } from './registrar';
export type {
  CallBack,
  CallBackAt,
  CallBackStep,
  AccessCalled,
  CodeDialled,
  CodeReply,
  DialOut,
  EmergencyAnswer,
  PhoneSystem,
  RoundCall,
  RoundCallEnded,
  SoundHeard,
  SystemAccount,
  SystemEvent,
  SystemOptions,
} from './types';
