import { deskPromise } from './desks';
import { civic } from './civic';
import { NAMED, choice, count, flag, id, ms, number, object, text, type FieldsOf } from './kinds';
import { path, siteNetwork } from './network';
import type { Device, PhoneKey, Site, SiteLine } from '../device-types';

export const relay: FieldsOf<NonNullable<Site['relay']>> = {
  device: id('relay phone'),
  alwaysOn: flag('always on'),
};
export const siteLine: FieldsOf<SiteLine> = {
  at: text('measured'),
  delayMs: ms('delay'),
  jitterMs: ms('jitter'),
  lossPercent: count('loss, %'),
  burst: count('lost at a time'),
};
export const site: FieldsOf<Site> = {
  ...NAMED,
  kind: choice('kind of site'),
  address: text('address'),
  civic: object('address in an emergency', () => civic),
  emergencyTrunk: id('trunk for emergencies'),
  addressRanges: text('outside addresses'),
  timeZone: text('time zone'),
  sipAlg: choice('SIP ALG of the router'),
  stableAddress: flag('outside address stays the same'),
  relay: object('branch relay', () => relay),
  network: object('network', () => siteNetwork),
  line: object('measured line', () => siteLine),
  deskPromises: object('promise about desks', () => deskPromise),
};
export const key: FieldsOf<PhoneKey> = {
  at: count('key'),
  use: choice('what the key is for'),
  extension: text('extension'),
  person: id('person'),
  number: number('number'),
  label: text('label'),
};
export const signedOn: FieldsOf<NonNullable<Device['signedOn']>> = {
  person: id('person'),
  since: text('since'),
};
export const device: FieldsOf<Device> = {
  ...NAMED,
  model: text('model'),
  macAddress: text('MAC address'),
  endpoint: id('used as'),
  site: id('site'),
  firmware: text('firmware'),
  passwordChanged: flag('factory password changed'),
  natMethod: choice('through NAT with'),
  remoteRegistration: flag('remote registration allowed'),
  keys: object('key', () => key),
  signedOn: object('signed on', () => signedOn),
  path: object('way out', () => path),
};
