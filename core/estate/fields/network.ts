import { NAMED, choice, count, flag, id, object, text, type FieldsOf } from './kinds';
import type {
  AppPath,
  BoxFile,
  Forward,
  ManualAddress,
  PathSettings,
  ServerFile,
  SiteNetwork,
} from '../network-types';

const forward: FieldsOf<Forward> = {
  proto: choice('protocol'),
  ports: text('ports'),
  to: text('to the address'),
};
const box: FieldsOf<BoxFile> = {
  ...NAMED,
  in: id('stands in'),
  inside: text('inside address'),
  outside: text('outside address'),
  nat: flag('NAT'),
  mapping: choice('mapping'),
  filtering: choice('filtering'),
  portPreserving: flag('keeps ports'),
  hairpin: flag('hairpinning'),
  udpTimeoutS: count('UDP time-out in seconds'),
  tcpTimeoutS: count('TCP time-out in seconds'),
  inboundRefreshes: flag('inbound packets refresh'),
  sharesPorts: flag('shares ports between destinations'),
  udpStreamTimeoutS: count('UDP time-out of a stream in seconds'),
  sipHelper: choice('SIP ALG'),
  blocked: text('blocked outward'),
  forwards: object('forwarded port', () => forward),
};
export const siteNetwork: FieldsOf<SiteNetwork> = { boxes: object('box', () => box) };

const manual: FieldsOf<ManualAddress> = {
  address: text('public address'),
  signalPort: count('public signalling port'),
  rtpPort: count('public RTP port'),
};
export const path: FieldsOf<PathSettings> = {
  in: id('behind the box'),
  address: text('own address'),
  transport: choice('transport'),
  signalPort: count('signalling port'),
  rtpPort: count('RTP port'),
  rport: flag('rport'),
  symmetric: flag('symmetric RTP'),
  keepAliveS: count('keep-alive in seconds'),
  registerExpiresS: count('registration lasts, in seconds'),
  manual: object('address written by hand', () => manual),
  turnTransport: choice('transport to the TURN server'),
};
export const appPath: FieldsOf<AppPath> = {
  ...path,
  site: id('site'),
  method: choice('through NAT with'),
};
export const server: FieldsOf<ServerFile> = {
  ...NAMED,
  kind: choice('kind of server'),
  in: id('stands in'),
  address: text('address'),
  port: count('port'),
  tlsPort: count('TLS port'),
  mediaPort: count('media port'),
  public: text('public address'),
  knowsPublic: flag('knows its public address'),
  ice: flag('ICE'),
  answersToSource: flag('answers to where it came from'),
  contactFromSource: flag('keeps where it came from as contact'),
  latches: flag('sends sound to where it came from'),
};
