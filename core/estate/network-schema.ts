import { isBlockRule, isIpv4, isPortSpan } from './network-texts';
import {
  NAT_BEHAVIOURS,
  NAT_METHODS,
  PATH_TRANSPORTS,
  SERVER_KINDS,
  SIP_ALGS,
  type AppPath,
  type BoxFile,
  type Forward,
  type ManualAddress,
  type PathSettings,
  type PhoneFile,
  type ServerFile,
  type SiteNetwork,
} from './network-types';
import {
  anything,
  choose,
  closed,
  count,
  flag,
  list,
  maybe,
  oneOf,
  requiredId,
  requiredText,
  text,
} from './yup-parts';

const MOST_FORWARDS = 200;
const DAY_S = 86_400;

const address = () =>
  text(15).test(
    'address',
    'must be an IPv4 address such as 192.168.1.20',
    (value) => value === undefined || isIpv4(value),
  );
const port = () => count(1, 65_535);
/** A port beside which another one is used. */
const rtpPort = () => count(1, 65_533);
const seconds = () => count(1, 31 * DAY_S);
const orNull = (schema: ReturnType<typeof count>) =>
  choose((value) => (value === null || value === undefined ? anything().nullable() : schema));
const ports = () =>
  text(11).test(
    'ports',
    'must be a port such as 5060 or a span such as 10000-10100',
    (value) => value === undefined || isPortSpan(value),
  );
const blocked = () =>
  text(15)
    .test(
      'blocked',
      'must be udp, tcp, udp:5060 or udp:10000-20000',
      (value) => value === undefined || isBlockRule(value),
    )
    .required('is missing');

const forwardSchema = closed<Forward>({
  proto: oneOf(['udp', 'tcp']).required('is missing'),
  ports: ports().required('is missing'),
  to: address().required('is missing'),
});
export const boxSchema = closed<BoxFile>({
  id: requiredId(),
  name: requiredText(),
  in: requiredId(),
  inside: address().required('is missing'),
  outside: address().required('is missing'),
  nat: flag(),
  mapping: oneOf(NAT_BEHAVIOURS),
  filtering: oneOf(NAT_BEHAVIOURS),
  portPreserving: flag(),
  hairpin: flag(),
  udpTimeoutS: seconds(),
  tcpTimeoutS: seconds(),
  inboundRefreshes: flag(),
  sharesPorts: flag(),
  udpStreamTimeoutS: orNull(seconds()),
  sipHelper: oneOf(SIP_ALGS),
  blocked: list(blocked()).max(MOST_FORWARDS, `must be ${MOST_FORWARDS} or fewer`),
  forwards: list(forwardSchema).max(MOST_FORWARDS, `must be ${MOST_FORWARDS} or fewer`),
});
export const serverSchema = closed<ServerFile>({
  id: requiredId(),
  name: requiredText(),
  kind: oneOf(SERVER_KINDS).required('is missing'),
  /** In an estate a network is named by site and box, as SITE/BOX. */
  in: text(250).matches(/^\S+$/, 'must be internet, or where a box is').required('is missing'),
  address: address().required('is missing'),
  port: port(),
  tlsPort: port(),
  mediaPort: port(),
  public: address(),
  knowsPublic: flag(),
  ice: flag(),
  answersToSource: flag(),
  contactFromSource: flag(),
  latches: flag(),
});
const manualSchema = closed<ManualAddress>({
  address: address().required('is missing'),
  signalPort: port(),
  rtpPort: port(),
});
/** So many boxes stand between a site and the internet at most. */
const MOST_SITE_BOXES = 50;
export const siteNetworkSchema = closed<SiteNetwork>({
  boxes: list(boxSchema).required('is missing').max(MOST_SITE_BOXES, `must be ${MOST_SITE_BOXES} or fewer`),
});
const manual = () =>
  choose((value) => (value === null || value === undefined ? anything().nullable() : manualSchema));
const pathFields = {
  in: text(120),
  address: address(),
  transport: oneOf(PATH_TRANSPORTS),
  signalPort: port(),
  rtpPort: rtpPort(),
  rport: flag(),
  symmetric: flag(),
  keepAliveS: orNull(seconds()),
  registerExpiresS: seconds(),
  manual: manual(),
  turnTransport: oneOf(PATH_TRANSPORTS),
};
export const pathSchema = closed<PathSettings>(pathFields);
export const appPathSchema = closed<AppPath>({
  ...pathFields,
  site: text(120),
  method: oneOf(NAT_METHODS),
});
export const networkPhoneSchema = closed<PhoneFile>({
  ...pathFields,
  id: requiredId(),
  name: requiredText(),
  in: requiredId(),
  address: address().required('is missing'),
  method: oneOf(NAT_METHODS),
  relay: maybe(choose((value) => (value === null ? anything().nullable() : requiredId()))),
});
