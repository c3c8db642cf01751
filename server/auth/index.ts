export { type Bound, WINDOW_SECONDS, forgetAttempts, mayTry, tryCounted, uncountAttempt } from './attempts';
export { hashCode, hashPassword, passwordMatches, phoneSecretMatches } from './passwords';
export {
  DEVICE_SECONDS,
  LONGEST_SECONDS,
  type StoredAccount,
  accountOfSession,
  beginSession,
  dropSecondFactor,
  endSession,
  endSessionById,
  endSessions,
  findAccount,
  isKnownDevice,
  noteDevice,
  putAccount,
  sessionsOf,
  setPassword,
} from './queries';
export { proposeSecondFactor, secondFactorMatches, secondFactorOf, takeSecondFactor } from './second-factor';
