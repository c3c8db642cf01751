export * from './types';
export {
  MOST_BOXES,
  MOST_PHONES,
  readNetwork,
  wholeBox,
  wholeNetwork,
  wholePhone,
  wholeServer,
  type ReadNetwork,
} from './read';
export { ownContact, signalPortOf, soundFrom, tcpPort } from './actor';
export { learns, stunServerOf } from './stun';
export { registersEachS } from './timeline';
export { send } from './carry';
export { serverOf } from './enter';
export {
  isPrivate,
  reachedAt,
  socketText,
  topologyOf,
  wayOut,
  writtenAs,
  type Host,
  type Topology,
} from './topology';
export { forgetOld, listen, newWorld, type Advertised, type Delivery, type World } from './world';
export { networkVerdicts, verdictsOf } from './verdicts';
export { pathWith, recommend, type Recommendation, type RejectedWay, type Way } from './recommend';
export { bytesADay, longestKeepAlive } from './keep-alive';
export { classify, type NatClass } from './classify';
export {
  boxIn,
  innermost,
  NETWORK_KINDS,
  networkOf,
  type NetworkKind,
  type NoNetwork,
  type PlacedPhone,
  type SiteNetworkOf,
} from './assemble';
export { helperOf, wayHome, type WayHome } from './home';
export { bestWays, siteAnswers, type PhoneAnswers } from './site';
export { learnedOf, type Learned, type LineTold } from './learned';
export {
  networkAround,
  NOT_TRIED_WORDS,
  triedBeside,
  triedWords,
  whyNotTried,
  type NotTried,
  type TriedAnswer,
  type TriedBeside,
  type TriedWay,
} from './tried';
export {
  failWords,
  lostWords,
  nameIn,
  pathAnswers,
  REASON_WORDS,
  verdictWords,
  type PathAnswer,
} from './words';
