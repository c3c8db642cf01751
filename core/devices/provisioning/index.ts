export * from './document';
export { keyFaults, KEY_USE_NAMES, sayKey, usualKeys, type KeyFault, type UsedAs } from './keys';
export {
  PHONE_FIELD_NAMES,
  phoneReader,
  readPhoneList,
  type ListedFault,
  type ListedPhone,
  type PhoneField,
  type ReadPhoneList,
} from './list';
export { languageFor, languageName } from './language';
export { deskModel, restartsForMs, sharedDisplay, sharedKeys, signOnCode, startsUntil } from './shared';
export { PIN_DIGITS, pinFault } from './pin';
export {
  CREDENTIAL_NAMES,
  CREDENTIALS,
  policyFor,
  policySchema,
  USUAL_POLICY,
  type Credential,
  type ProvisioningPolicy,
} from './policy';
export {
  afterStep,
  lockedUntil,
  nextStep,
  NOT_BEGUN,
  SELF_SET_STATES,
  type Progress,
  type ProvisioningState,
  type Step,
} from './progress';
export { partsChanged, settingsFor, type SettingsOf, type SystemAt } from './settings';
