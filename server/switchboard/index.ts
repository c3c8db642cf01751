export type { CallBackNow } from './backs';
export type { ListedSounds, NamedSound } from './listed';
export { newPassword, readAccount, readAccounts, renewPassword, rotateKey } from './accounts';
export { notesSchema, putSoundNotes, readSoundNotes } from './notes';
export { putPhoneSetting, readPhoneSettings } from './queries';
export { openSwitchboard } from './switchboard';
export { sharedSystem } from './system';
export type { KeepsWhatGoes, LiveTry, Switchboard } from './types';
