export { type Keyring, type Sealed, keyFile, openKeyring } from './keyring';
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
