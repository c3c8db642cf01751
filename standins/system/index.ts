export { openSystem } from './system';
export { CONFIRM_KEYS } from './call';
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
