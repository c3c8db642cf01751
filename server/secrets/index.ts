export { type Keyring, type Sealed, openKeyring } from './keyring';
export {
  forgetLost,
  keysInUse,
  mustOpenSecrets,
  putSecret,
  putSecretOnce,
  readSecret,
  readSecrets,
  removeSecret,
  sealAgain,
} from './store';
