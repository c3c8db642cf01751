export { openSystem } from './system';
export { type Pins, type PinVerdict } from './confirm';
export type { RoundCall, RoundCallEnded } from './round-call';
export type { Binding, RegistrarEvent } from './registrar';
export type {
  CodeDialled,
  CodeReply,
  PhoneSystem,
  SoundHeard,
  SystemAccount,
  SystemEvent,
  SystemOptions,
} from './types';
