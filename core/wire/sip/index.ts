export * from './message';
export { cutStream, LIMITS, parseSip, splitList, type Parsed, type SipFault } from './parse';
export { answerHeaders, buildSip, reasonOf, sameBranch } from './build';
export {
  parseHostPort,
  parseNameAddr,
  parseUri,
  parseVia,
  sipUri,
  writeNameAddr,
  writeUri,
  writeVia,
} from './uri';
export {
  accountHash,
  answerChallenge,
  DIGEST_ALGORITHMS,
  digestResponse,
  parseChallenge,
  parseCredentials,
  requestHash,
  writeChallenge,
  type Challenge,
  type Credentials,
  type DigestAlgorithm,
  type HexHash,
} from './digest';
export {
  parseSdp,
  priorityOf,
  TELEPHONE_EVENT,
  writeSdp,
  type IceCandidate,
  type IceOffer,
  type Sound,
} from './sdp';
export {
  MESSAGE_SUMMARY,
  NO_MESSAGES,
  parseMessageSummary,
  writeMessageSummary,
  type MessagesWaiting,
} from './message-summary';
export { readMultipart, writeMultipart, type BodyPart } from './multipart';
