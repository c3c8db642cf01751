import { deskPromisesSchema } from './desk-schema';
import { civicSchema, rangesSchema } from './civic-schema';
import { KEY_USES, SITE_KINDS, type Site, type SiteLine, type Device, type PhoneKey } from './device-types';
import { NAT_METHODS, SIP_ALGS } from './network-types';
import { pathSchema, siteNetworkSchema } from './network-schema';
import {
  closed,
  count,
  flag,
  id,
  instant,
  list,
  maybe,
  oneOf,
  requiredId,
  requiredText,
  share,
  text,
  timeZone,
} from './yup-parts';

const macAddress = () =>
  text(12).matches(/^[0-9A-F]{12}$/, {
    message: 'must be twelve hexadecimal digits in capitals, without separators',
    excludeEmptyString: false,
  });
const firmware = () =>
  text(20).matches(/^\d{1,5}(\.\d{1,5}){0,4}$/, {
    message: 'must be numbers with dots, such as 3.2.10',
    excludeEmptyString: false,
  });

const siteLineSchema = closed<SiteLine>({
  at: instant().required('is missing'),
  delayMs: share(60_000).required('is missing'),
  jitterMs: share(60_000).required('is missing'),
  lossPercent: share(100).required('is missing'),
  burst: share(10_000).min(1, 'must be 1 or more'),
});
export const siteSchema = closed<Site>({
  id: requiredId(),
  name: requiredText(),
  kind: oneOf(SITE_KINDS).required('is missing'),
  address: text(),
  civic: maybe(civicSchema()),
  emergencyTrunk: id(),
  addressRanges: rangesSchema(),
  timeZone: maybe(timeZone()),
  sipAlg: oneOf(SIP_ALGS),
  stableAddress: flag(),
  relay: maybe(
    closed<NonNullable<Site['relay']>>({ device: requiredId(), alwaysOn: flag().required('is missing') }),
  ),
  network: maybe(siteNetworkSchema),
  line: maybe(siteLineSchema),
  deskPromises: deskPromisesSchema,
});

/** More keys than these has no phone. */
export const MOST_KEYS = 120;
const keySchema = closed<PhoneKey>({
  at: count(1, MOST_KEYS).required('is missing'),
  use: oneOf(KEY_USES).required('is missing'),
  extension: text(20),
  person: text(120),
  number: text(40),
  label: text(40),
});

export const deviceSchema = closed<Device>({
  id: requiredId(),
  name: requiredText(),
  model: requiredId(),
  macAddress: macAddress(),
  endpoint: text(120),
  site: text(120),
  firmware: firmware(),
  passwordChanged: flag(),
  natMethod: oneOf(NAT_METHODS),
  remoteRegistration: flag(),
  keys: list(keySchema).max(MOST_KEYS),
  signedOn: maybe(
    closed<NonNullable<Device['signedOn']>>({
      person: requiredId(),
      since: instant().required('is missing'),
    }),
  ),
  path: maybe(pathSchema),
});
