import type { Device, Estate, NatMethod, Site } from '../../estate';
import { isNewEnough, type KeypadSetting, type PhoneModel } from './catalogue';

/** What is typed into a phone so that it registers. */
export interface AccountValues {
  readonly user: string;
  /** null: not shown; the step then says where to get it. */
  readonly password: string | null;
  readonly server: string;
  readonly port: number;
  readonly transport: 'UDP' | 'TCP' | 'TLS';
}

/** What a way through the router asks for at the keypad. */
export interface WayAtKeypad {
  readonly method: NatMethod;
  /** The server that the method wants to be told of; null: none. */
  readonly helper: { readonly name: string; readonly address: string; readonly port: number } | null;
  /** null: none. */
  readonly keepAliveS: number | null;
}

/** One step at the keypad: the way through the menus, what to enter there, and what to expect. */
export interface KeypadStep {
  readonly setting: KeypadSetting | 'helper' | 'keep-alive' | 'finish';
  readonly says: string;
  /** The menus from the outermost in; empty where there are none to go through. */
  readonly menus: readonly string[];
  /** Typed in exactly; null where nothing is typed. */
  readonly value: string | null;
}

export const METHOD_NAMES: Record<NatMethod, string> = {
  direct: 'Nothing needed',
  'manual-public-address': 'Public address by hand',
  stun: 'STUN',
  ice: 'ICE',
  turn: 'TURN',
  'border-controller': 'Session border controller',
  'branch-relay': 'Branch relay',
  vpn: 'VPN',
};

const SAYS: Record<KeypadSetting, string> = {
  password: 'Change the password that the phone came with',
  user: 'Enter the user',
  secret: 'Enter the password of the line',
  server: 'Enter the server',
  port: 'Enter the port',
  transport: 'Choose how SIP is carried',
  nat: 'Choose how it gets through the router',
};

/** How many digits the code of a phone has when somebody chooses one. */
const CODE_DIGITS = 6;

/**
 * The steps at a phone's keypad, in order, with the values of its line.
 * @param way how it gets out; null: it stands inside, and those steps fall away
 */
export function keypadSteps(
  model: PhoneModel,
  account: AccountValues,
  way: WayAtKeypad | null,
  passwordChanged: boolean,
): readonly KeypadStep[] {
  const step = (setting: KeypadSetting, value: string | null, more = ''): KeypadStep => ({
    setting,
    says: `${SAYS[setting]}${more}`,
    menus: model.menus[setting],
    value,
  });
  return [
    ...(passwordChanged
      ? []
      : [
          step(
            'password',
            null,
            model.factoryPassword === null
              ? `: it asks for one of ${CODE_DIGITS} digits when it is first switched on`
              : `, ${model.factoryPassword}, to ${CODE_DIGITS} digits of your own`,
          ),
        ]),
    step('user', account.user),
    step('secret', account.password, account.password === null ? ': it is on the page of the line' : ''),
    step('server', account.server),
    step('port', String(account.port)),
    step('transport', account.transport),
    ...(way === null
      ? []
      : [
          step('nat', METHOD_NAMES[way.method]),
          ...(way.helper
            ? [
                {
                  setting: 'helper' as const,
                  says: `Enter the ${way.helper.name} there`,
                  menus: model.menus.nat,
                  value: `${way.helper.address}:${way.helper.port}`,
                },
              ]
            : []),
          ...(way.keepAliveS === null
            ? []
            : [
                {
                  setting: 'keep-alive' as const,
                  says: 'Enter how often it keeps the way open, in seconds',
                  menus: model.menus.nat,
                  value: String(way.keepAliveS),
                },
              ]),
        ]),
    { setting: 'finish', says: model.finish, menus: [], value: null },
  ];
}

/** Something that must hold before a phone works from outside, and whether it does. */
export interface Prerequisite {
  readonly id: 'firmware' | 'password' | 'let-in' | 'method' | 'media' | 'sip-helper';
  /** Null: nobody has said, so that nothing is claimed. */
  readonly holds: boolean | null;
  readonly says: string;
}

const leavesSipAlone = ({ sipAlg }: Site): boolean =>
  sipAlg === undefined || sipAlg === 'none' || sipAlg === 'rewrites-well';

/** What must hold before a phone works at a place outside. @param method how it shall get out there */
export function prerequisites(
  device: Device,
  model: PhoneModel,
  method: NatMethod,
  site: Site | undefined,
): readonly Prerequisite[] {
  const isCovered = method === 'vpn' || method === 'branch-relay';
  const runs = device.firmware;
  return [
    {
      id: 'firmware',
      holds: runs === undefined ? null : isNewEnough(runs, model.firmwareLeast),
      says:
        runs === undefined
          ? `Its firmware is not known; ${model.firmwareLeast} is needed at least.`
          : `It runs ${runs}; ${model.firmwareLeast} is needed at least.`,
    },
    {
      id: 'password',
      holds: model.factoryPassword === null ? true : (device.passwordChanged ?? null),
      says:
        model.factoryPassword !== null && device.passwordChanged === undefined
          ? 'Whether the password that it came with has been changed is not known.'
          : 'The password that it came with has been changed.',
    },
    {
      id: 'let-in',
      holds: isCovered || device.remoteRegistration === true,
      says: isCovered
        ? 'It arrives as if it stood inside, so its line needs no remote registration.'
        : 'The phone system lets its line in from outside.',
    },
    {
      id: 'method',
      holds: model.methods.includes(method),
      says: `A ${model.name} can get out by ${METHOD_NAMES[method]}.`,
    },
    ...(model.mediaThroughSystem
      ? [
          {
            id: 'media' as const,
            holds: method !== 'direct' && method !== 'manual-public-address',
            says: 'Its sound goes through the phone system, which this model needs from outside.',
          },
        ]
      : []),
    {
      id: 'sip-helper',
      holds: isCovered ? true : site === undefined ? null : leavesSipAlone(site),
      says:
        !isCovered && site === undefined
          ? 'Whether the router there leaves SIP alone is not known: say at which site it stands.'
          : 'The router there leaves SIP alone.',
    },
  ];
}

/** One setting in the office and at home. */
export interface PlaceDifference {
  readonly setting: string;
  readonly office: string;
  readonly home: string;
}

/** What differs between a phone in the office and the same phone at home. */
export function officeAndHome(
  office: { readonly server: string; readonly port: number; readonly transport: AccountValues['transport'] },
  home: AccountValues & Pick<WayAtKeypad, 'method' | 'keepAliveS'>,
): readonly PlaceDifference[] {
  const all: readonly PlaceDifference[] = [
    { setting: 'Server', office: office.server, home: home.server },
    { setting: 'Port', office: String(office.port), home: String(home.port) },
    { setting: 'Carried by', office: office.transport, home: home.transport },
    { setting: 'Through the router', office: 'stands inside', home: METHOD_NAMES[home.method] },
    {
      setting: 'Keep-alive',
      office: 'none',
      home: home.keepAliveS === null ? 'none' : `every ${home.keepAliveS} s`,
    },
    {
      setting: 'Remote registration allowed',
      office: 'no need',
      home: home.method === 'vpn' || home.method === 'branch-relay' ? 'no need' : 'yes',
    },
  ];
  return all.filter((each) => each.office !== each.home);
}

/** A phone as it is once it is back in the office: what was only for outside falls away. */
export function backInOffice(device: Device, { sites = [] }: Pick<Estate, 'sites'>): Device {
  const { natMethod: _method, remoteRegistration: _remoteRegistration, site, path, ...rest } = device;
  const {
    in: _in,
    address: _address,
    transport: _transport,
    keepAliveS: _keepAlive,
    manual: _manual,
    turnTransport: _turn,
    ...kept
  } = path ?? {};
  const stands = sites.find(({ id }) => id === site);
  return {
    ...rest,
    ...(Object.keys(kept).length > 0 ? { path: kept } : {}),
    ...(stands && stands.kind !== 'home' ? { site: stands.id } : {}),
  };
}
