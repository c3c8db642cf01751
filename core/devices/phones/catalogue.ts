import type { NatMethod } from '../../estate';

/**
 * Our own catalogue: made-up phone models with made-up menus, each different in what matters to the job. An
 * organisation's own models take their place in the same form.
 */
export interface PhoneModel {
  readonly id: string;
  readonly name: string;
  readonly kind: 'desk' | 'cordless' | 'conference';
  /** What is needed at least, as numbers with dots. */
  readonly firmwareLeast: string;
  readonly methods: readonly NatMethod[];
  /** Phones that it can relay for at a small site; 0: it cannot. */
  readonly relaysFor: number;
  /** Whether its media must go through the phone system when it stands outside. */
  readonly mediaThroughSystem: boolean;
  /** The password it comes with; null: it asks for one before it does anything. */
  readonly factoryPassword: string | null;
  /** Settings that it takes up only when it is restarted. */
  readonly restartFor: readonly ('account' | 'server' | 'keys' | 'network')[];
  /** How long it takes to start again, s: it is not registered meanwhile. */
  readonly restartS: number;
  /** The languages that its display speaks (RFC 5646), its own first. */
  readonly languages: readonly string[];
  /** Keys that can be laid out from here. */
  readonly keys: number;
  /** How letters, dots and capitals are typed at its keypad. */
  readonly typing: string;
  /** The way to each setting at the keypad, its menus from the outermost in. */
  readonly menus: Readonly<Record<KeypadSetting, readonly string[]>>;
  /** What ends the work at the keypad. */
  readonly finish: string;
}

/** The settings that somebody at the keypad has to find. */
export const KEYPAD_SETTINGS = ['password', 'user', 'secret', 'server', 'port', 'transport', 'nat'] as const;
export type KeypadSetting = (typeof KEYPAD_SETTINGS)[number];

export const MODELS: readonly PhoneModel[] = [
  {
    id: 'gannet-20',
    name: 'Gannet 20',
    kind: 'desk',
    firmwareLeast: '3.4.0',
    methods: ['direct', 'stun', 'border-controller', 'branch-relay', 'vpn'],
    relaysFor: 0,
    mediaThroughSystem: true,
    factoryPassword: '0000',
    restartFor: ['account', 'server', 'network'],
    restartS: 12,
    languages: ['en', 'fr', 'de', 'es'],
    keys: 8,
    typing: 'Press a digit key again for its next letter; 1 gives a dot, then @ and -. Hold # for capitals.',
    menus: {
      password: ['Set-up', 'This phone', 'Lock', 'New code'],
      user: ['Set-up', 'Line 1', 'Who I am'],
      secret: ['Set-up', 'Line 1', 'Secret'],
      server: ['Set-up', 'Line 1', 'Where I register'],
      port: ['Set-up', 'Line 1', 'Port'],
      transport: ['Set-up', 'Line 1', 'Carried by'],
      nat: ['Set-up', 'Way out', 'Method'],
    },
    finish: 'Press Keep, then Start again. The lamp blinks for a minute and then stays lit.',
  },
  {
    id: 'gannet-60',
    name: 'Gannet 60',
    kind: 'desk',
    firmwareLeast: '3.6.2',
    methods: ['direct', 'stun', 'ice', 'turn', 'border-controller', 'branch-relay', 'vpn'],
    relaysFor: 12,
    mediaThroughSystem: false,
    factoryPassword: null,
    restartFor: ['network'],
    restartS: 25,
    languages: ['en', 'fr', 'de', 'es', 'it', 'nb', 'pl', 'pt'],
    keys: 24,
    typing: 'The keys on the glass have letters and digits; the dot is at the lower right.',
    menus: {
      password: ['Menu', 'Owner', 'Code'],
      user: ['Menu', 'Lines', 'First line', 'User'],
      secret: ['Menu', 'Lines', 'First line', 'Password'],
      server: ['Menu', 'Lines', 'First line', 'Server'],
      port: ['Menu', 'Lines', 'First line', 'Server', 'Port'],
      transport: ['Menu', 'Lines', 'First line', 'Server', 'Transport'],
      nat: ['Menu', 'Network', 'From outside'],
    },
    finish: 'Touch Done. The line shows its number when it is registered.',
  },
  {
    id: 'petrel-d',
    name: 'Petrel D',
    kind: 'cordless',
    firmwareLeast: '1.18',
    methods: ['direct', 'manual-public-address', 'border-controller', 'vpn'],
    relaysFor: 0,
    mediaThroughSystem: true,
    factoryPassword: '1234',
    restartFor: ['account', 'server', 'keys', 'network'],
    restartS: 20,
    languages: ['en', 'fr'],
    keys: 2,
    typing: 'Press * for the dot and hold * for letters; each key goes through its letters from a.',
    menus: {
      password: ['OK', 'Base', 'Service code'],
      user: ['OK', 'Base', 'Account', 'Name'],
      secret: ['OK', 'Base', 'Account', 'Pass'],
      server: ['OK', 'Base', 'Account', 'Host'],
      port: ['OK', 'Base', 'Account', 'Host port'],
      transport: ['OK', 'Base', 'Account', 'Wire'],
      nat: ['OK', 'Base', 'Router', 'Help'],
    },
    finish: 'Hold the red key for four seconds: the base starts again.',
  },
  {
    id: 'skua-room',
    name: 'Skua Room',
    kind: 'conference',
    firmwareLeast: '2.0.5',
    methods: ['direct', 'border-controller', 'vpn'],
    relaysFor: 0,
    mediaThroughSystem: true,
    factoryPassword: '8888',
    restartFor: ['account', 'server'],
    restartS: 30,
    languages: ['en'],
    keys: 0,
    typing: 'Turn the ring to a sign and press it; the dot stands after the nine.',
    menus: {
      password: ['Ring', 'Keeper', 'Code'],
      user: ['Ring', 'Line', 'Name'],
      secret: ['Ring', 'Line', 'Word'],
      server: ['Ring', 'Line', 'Home'],
      port: ['Ring', 'Line', 'Gate'],
      transport: ['Ring', 'Line', 'Wire'],
      nat: ['Ring', 'Line', 'Outside'],
    },
    finish: 'Press the ring for three seconds. It glows when it is registered.',
  },
];

const BY_ID: ReadonlyMap<string, PhoneModel> = new Map(MODELS.map((model) => [model.id, model]));

/** A model of the catalogue; undefined if there is none by that id. */
export const modelOf = (id: string): PhoneModel | undefined => BY_ID.get(id);

/** Compares firmware as numbers with dots: below 0 if the first is older, 0 if they are the same. */
export function compareFirmware(a: string, b: string): number {
  const [left, right] = [a.split('.').map(Number), b.split('.').map(Number)];
  for (let i = 0; i < Math.max(left.length, right.length); i += 1) {
    const step = (left[i] ?? 0) - (right[i] ?? 0);
    if (step !== 0) return step;
  }
  return 0;
}

/** Whether firmware is not older than what is needed at least; what is not known is not. */
export const isNewEnough = (firmware: string | null | undefined, least: string): boolean =>
  firmware !== null && firmware !== undefined && compareFirmware(firmware, least) >= 0;

/** A hardware address in any usual form as it is stored; null if it is none. EUI-48, IEEE 802. */
export function readHardwareAddress(text: string): string | null {
  const digits = text
    .trim()
    .replace(/[\s:.-]/g, '')
    .toUpperCase();
  return /^[0-9A-F]{12}$/.test(digits) ? digits : null;
}
/** A stored hardware address as it is read: in pairs with colons. */
export const showHardwareAddress = (address: string): string => (address.match(/../g) ?? []).join(':');
