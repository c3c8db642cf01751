export {
  compareFirmware,
  isNewEnough,
  KEYPAD_SETTINGS,
  modelOf,
  MODELS,
  readHardwareAddress,
  showHardwareAddress,
  type KeypadSetting,
  type PhoneModel,
} from './catalogue';
export { canPlace, phonesByStatus, placeFrom, sayPlacing, type PhonesAtStatus } from './by-status';
export {
  accountUri,
  APP_CHECKS,
  APP_PERMISSIONS,
  handoverSteps,
  handoverText,
  RANG_LOCKED,
  SOUND_THINGS,
  type SoundNotes,
  type SoundThing,
  type AppPermission,
  type HandoverStep,
} from './handover';
export {
  backInOffice,
  keypadSteps,
  METHOD_NAMES,
  officeAndHome,
  prerequisites,
  type AccountValues,
  type KeypadStep,
  type WayAtKeypad,
  type PlaceDifference,
  type Prerequisite,
} from './steps';
