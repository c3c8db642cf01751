import type { Civic, Desk, Device, Endpoint, Estate, Person, SaidPlace, Site, Trunk } from '../estate';

const DAY_MS = 86_400_000;
/** What somebody said of a place holds for so long. */
export const STALE_DAYS = 90;

/** Why a place is believed, and what is wrong with it. */
export type PlaceBasis = 'site-of-phone' | 'address-range' | 'said' | 'unknown';
export interface Placed {
  readonly basis: PlaceBasis;
  /** null: not known. */
  readonly civic: Civic | null;
  readonly site: Site | null;
  readonly desk: Desk | null;
  readonly isStale: boolean;
}

/** Whether an IPv4 address is in a range (RFC 4632). */
export function isInRange(address: string, range: string): boolean {
  const number = (text: string) => text.split('.').reduce((sum, part) => sum * 256 + Number(part), 0);
  const [base = '', length = ''] = range.split('/');
  if (!/^\d{1,3}(\.\d{1,3}){3}$/.test(address)) return false;
  const size = 2 ** (32 - Number(length));
  return Math.floor(number(address) / size) === Math.floor(number(base) / size);
}

export interface PlaceAsked {
  readonly endpoint: Endpoint;
  /** The desk that its owner is signed on at, where it is whichever shared phone that is. */
  readonly desk: string | null;
  /** The address that it is registered from; null: it is not, or that is not known. */
  readonly address: string | null;
  /** The mark of that address, as it is kept with what was said. */
  readonly mark: string | null;
  /** ms since 1970 */
  readonly atMs: number;
}

/**
 * Where a phone is, and why that is believed (desks, places and seats, section 2): a phone as a thing stands at its
 * site; else the site whose address ranges it is registered from; else what was said of it. It is the phone's place
 * that counts, never that of a person's usual desk.
 */
export function placeOf(
  { sites = [], devices = [], desks = [] }: Pick<Estate, 'sites' | 'devices' | 'desks'>,
  { endpoint, desk: deskId, address, mark, atMs }: PlaceAsked,
): Placed {
  const desk = desks.find(({ id }) => id === deskId) ?? null;
  const device: Device | undefined = desk
    ? devices.find(({ id }) => id === desk.device)
    : devices.find((each) => each.endpoint === endpoint.id);
  const standing = sites.find(({ id }) => id === device?.site);
  if (standing)
    return {
      basis: 'site-of-phone',
      civic: standing.civic
        ? { ...standing.civic, ...(desk?.area === undefined ? {} : { LOC: desk.area }) }
        : null,
      site: standing,
      desk,
      isStale: false,
    };
  const around =
    address === null
      ? undefined
      : sites.find(({ addressRanges = [] }) => addressRanges.some((range) => isInRange(address, range)));
  if (around)
    return { basis: 'address-range', civic: around.civic ?? null, site: around, desk: null, isStale: false };
  const { place } = endpoint;
  if (!place) return { basis: 'unknown', civic: null, site: null, desk: null, isStale: false };
  const moved = place.from !== undefined && mark !== null && mark !== place.from;
  return { basis: 'said', civic: place.civic, site: null, desk: null, isStale: isOld(place, atMs) || moved };
}

/** Whether what was said of a place was said too long ago to hold. @param atMs ms since 1970 */
export const isOld = ({ saidOn }: Pick<SaidPlace, 'saidOn'>, atMs: number): boolean =>
  atMs - Date.parse(`${saidOn}T00:00:00Z`) > STALE_DAYS * DAY_MS;

export const PLACE_FAULTS = [
  'unknown',
  'stale',
  'no-civic',
  'trunk-elsewhere',
  'call-back-elsewhere',
] as const;
export type PlaceFault = (typeof PLACE_FAULTS)[number];

/** What is wrong with an emergency call from a phone. */
export function placeFaults(
  placed: Placed,
  {
    trunk,
    ringsBack,
  }: {
    /** The trunk that emergency calls go by; null: none. */
    readonly trunk: string | null;
    /** Whether a call back to the number that is shown rings this phone now. */
    readonly ringsBack: boolean;
  },
): readonly PlaceFault[] {
  const faults: PlaceFault[] = [];
  if (placed.basis === 'unknown') faults.push('unknown');
  else if (placed.isStale) faults.push('stale');
  else if (!placed.civic) faults.push('no-civic');
  const wanted = placed.site?.emergencyTrunk;
  if (wanted !== undefined && wanted !== trunk) faults.push('trunk-elsewhere');
  if (!ringsBack) faults.push('call-back-elsewhere');
  return faults;
}

/** Whose softphones and outside phones have no place of their own as things. */
export const saysOwnPlace = ({ kind }: Endpoint): boolean =>
  kind === 'desktop-app' || kind === 'mobile-app' || kind === 'sip' || kind === 'landline';

/** Phones of the public network call by their own carrier, which knows where they are. */
export const callsByUs = ({ kind }: Endpoint): boolean => kind !== 'mobile' && kind !== 'landline';

/** The trunk that emergency calls go by: the first that carries local calls; null: none does. */
export const emergencyTrunkOf = ({ trunks }: Pick<Estate, 'trunks'>): Trunk | null =>
  trunks.find(({ carries }) => carries.includes('local')) ?? null;

/** The number that is shown in an emergency: the person's own direct one; null: they have none. */
export const callBackOf = ({ lines }: Person): string | null =>
  lines.flatMap(({ numbers }) => numbers)[0] ?? null;
