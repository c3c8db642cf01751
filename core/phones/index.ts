export {
  compareFirmware,
  KEYPAD_SETTINGS,
  modelOf,
  MODELS,
  readHardwareAddress,
  showHardwareAddress,
  type KeypadSetting,
  type PhoneModel,
} from './catalogue';
