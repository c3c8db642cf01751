import type { OwnPlaces, SafetyPage, SafetyRow } from '../../api/safety';
import {
  callBackOf,
  callsByUs,
  emergencyTrunkOf,
  placeFaults,
  placeOf,
  sayCivic,
  saysOwnPlace,
  type Placed,
} from '../../core/emergency';
import { ANY_OUTSIDE_CALLER, runInDetail, type EstateIndex } from '../../core/calls/engine';
import { emergencyNumbers } from '../../core/calls/dialling';
import { isoIn } from '../../core/calls/time';
import { awayBehaviours } from '../../core/desks';
import { townOnly } from '../../core/privacy';
import type { Endpoint, Estate, Person } from '../../core/estate';
import { markOf, openSignOns } from '../desks';
import type { Services } from '../http';

type Needs = Pick<Services, 'db' | 'store' | 'now' | 'phones' | 'secrets'>;

/** What is known of where phones are at a moment. */
interface Seen {
  readonly atMs: number;
  /** The desk of each person who is signed on at one. */
  readonly desks: ReadonlyMap<string, string>;
  /** Where each endpoint is registered from, with its mark. */
  readonly addresses: ReadonlyMap<string, { readonly address: string; readonly mark: string }>;
}

async function seen(services: Needs): Promise<Seen> {
  const on = await openSignOns(services.db);
  const registered = services.phones.registrations();
  const addresses = new Map<string, { address: string; mark: string }>();
  const marks = new Map<string, string>();
  for (const { endpoint, from } of registered) {
    if (endpoint === null) continue;
    const mark = marks.get(from.host) ?? (await markOf(services, `registered from ${from.host}`));
    marks.set(from.host, mark);
    addresses.set(endpoint, { address: from.host, mark });
  }
  return {
    atMs: services.now().getTime(),
    desks: new Map(on.map(({ person, desk }) => [person, desk])),
    addresses,
  };
}

const isHome = ({ basis, site }: Placed) => basis === 'said' || site?.kind === 'home';
const placedOf = (estate: Estate, person: Person, endpoint: Endpoint, now: Seen): Placed =>
  placeOf(estate, {
    endpoint,
    desk: endpoint.kind === 'hot-desk' ? (now.desks.get(person.id) ?? null) : null,
    address: now.addresses.get(endpoint.id)?.address ?? null,
    mark: now.addresses.get(endpoint.id)?.mark ?? null,
    atMs: now.atMs,
  });

/** The phones that a call back to a number rings now, who is signed on nowhere left out. */
function rungBy(index: EstateIndex, endpoints: ReturnType<typeof awayBehaviours>, atMs: number) {
  const known = new Map<string, ReadonlySet<string>>();
  return (number: string): ReadonlySet<string> => {
    let found = known.get(number);
    if (!found) {
      const { trace } = runInDetail(
        index,
        {
          from: ANY_OUTSIDE_CALLER,
          to: number,
          at: isoIn(atMs, index.estate.timeZone),
          world: { endpoints },
        },
        false,
      );
      found = new Set(trace.legs.flatMap(({ endpoint, alertMs }) => (alertMs === null ? [] : [endpoint])));
      known.set(number, found);
    }
    return found;
  };
}

/**
 * Every phone that an emergency call can be placed from, with its place and what is wrong with it.
 * @param isWhole false: of homes the town alone is told
 */
export async function safetyPage(services: Needs, isWhole: boolean): Promise<SafetyPage> {
  const { estate, index } = await services.store.current();
  const now = await seen(services);
  const away = awayBehaviours(estate.people, ({ id }) => now.desks.has(id));
  const rings = rungBy(index, away, now.atMs);
  const trunk = emergencyTrunkOf(estate);
  const rows = estate.people.flatMap((person) =>
    person.endpoints
      .filter((endpoint) => callsByUs(endpoint) && !Object.hasOwn(away, endpoint.id))
      .map((endpoint): SafetyRow => {
        const placed = placedOf(estate, person, endpoint, now);
        const callBack = callBackOf(person);
        return {
          endpoint: endpoint.id,
          label: endpoint.label,
          kind: endpoint.kind,
          person: person.id,
          name: person.name,
          basis: placed.basis,
          place: placed.civic
            ? sayCivic(isWhole || !isHome(placed) ? placed.civic : townOnly(placed.civic))
            : null,
          site: placed.site?.id ?? null,
          siteName: placed.site?.name ?? null,
          faults: placeFaults(placed, {
            trunk: trunk?.id ?? null,
            ringsBack: callBack !== null && rings(callBack).has(endpoint.id),
          }),
          callBack,
          trunk: trunk?.name ?? null,
          said:
            placed.basis === 'said' && endpoint.place
              ? { on: endpoint.place.saidOn, by: endpoint.place.by }
              : null,
        };
      }),
  );
  return { numbers: emergencyNumbers(estate.dialling.country), rows };
}

/** Where one's own softphones and outside phones are. */
export async function ownPlaces(services: Needs, person: Person): Promise<OwnPlaces> {
  const { estate } = await services.store.current();
  const now = await seen(services);
  return {
    phones: person.endpoints
      .filter((endpoint) => callsByUs(endpoint) && saysOwnPlace(endpoint))
      .map((endpoint) => {
        const placed = placedOf(estate, person, endpoint, now);
        return {
          endpoint: endpoint.id,
          label: endpoint.label,
          place: placed.civic ? sayCivic(placed.civic) : null,
          civic: placed.civic,
          faults: placeFaults(placed, { trunk: placed.site?.emergencyTrunk ?? null, ringsBack: true }),
          maySay: placed.basis === 'said' || placed.basis === 'unknown',
        };
      }),
  };
}

/** The mark of the address that an endpoint is registered from now; null: it is not. */
export const markNow = async (services: Needs, endpoint: string): Promise<string | null> =>
  (await seen(services)).addresses.get(endpoint)?.mark ?? null;

/** The location of a phone as it would be sent; null: there is none. */
export async function locationOf(services: Needs, endpointId: string) {
  const { estate, finder } = await services.store.current();
  const person = finder.ownerOf(endpointId);
  const endpoint = person?.endpoints.find(({ id }) => id === endpointId);
  if (!person || !endpoint) return null;
  const { civic } = placedOf(estate, person, endpoint, await seen(services));
  return civic && { civic, person, endpoint };
}
