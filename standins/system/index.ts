export { openSystem } from './system';
export { CONFIRM_KEYS } from './call';
export type { CodeReply } from './code-call';
export type { Binding, RegistrarEvent } from './registrar';
export type {
  CodeDialled,
  PhoneSystem,
  SoundHeard,
  SystemAccount,
  SystemEvent,
  SystemOptions,
} from './types';
