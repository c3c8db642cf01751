import type { LineCheck, LineMeasured, LineTools } from '../../api/lines';
import { isIpv4, type Estate, type Person } from '../../core/estate';
import { shortLived } from '../../standins/turn/credentials';
import { mayRelayTo } from '../../standins/turn/allow';
import type { RelayPlace } from '../../standins/turn/relay';
import { notRight, refusal, ROLES, STAFF } from '../base';
import { inTransaction } from '../db';
import type { LiveEstate } from '../estate';
import { checkedBody, type Route, type Services, type SignedIn } from '../http';
import { putLine, readLines, type KeptLine } from './queries';
import { lineBody } from './schema';

const ONLY_STAFF = [STAFF] as const;
/** How long what lets a browser use the relay holds, in ms: one measurement, with time to spare. */
const HOLDS_MS = 5 * 60_000;
const MOST_SHOWN = 20;

/** The organisation's own relay, where there is one: `HOSTLER_TURN_URLS`, parted by commas, and `HOSTLER_TURN_SECRET`. */
function ownRelay(): { readonly urls: readonly string[]; readonly secret: string } | null {
  const urls = (process.env.HOSTLER_TURN_URLS ?? '').split(',').flatMap((each) => each.trim() || []);
  const secret = process.env.HOSTLER_TURN_SECRET;
  return urls.length > 0 && secret ? { urls, secret } : null;
}

/** By which way each URL of a relay (RFC 7065) is reached. */
const byWay = (urls: readonly string[]): LineTools['relays'] => ({
  udp: urls.filter((url) => url.startsWith('turn:') && !url.includes('transport=tcp')),
  tcp: urls.filter((url) => url.startsWith('turn:') && url.includes('transport=tcp')),
  tls: urls.filter((url) => url.startsWith('turns:')),
});

/** The stand-in relay; its certificate is one that browsers do not trust, unless they are told to. */
const urlsOf = ({ host, port, tlsPort }: RelayPlace): readonly string[] => [
  ...['udp', 'tcp'].map((way) => `turn:${host}:${port}?transport=${way}`),
  ...(tlsPort === null ? [] : [`turns:${host}:${tlsPort}?transport=tcp`]),
];

function toolsFor(person: string, { phones, now }: Services): LineTools | null {
  const until = now().getTime() + HOLDS_MS;
  const own = ownRelay();
  const relay = own ? null : phones.relay();
  const secret = own?.secret ?? relay?.secret;
  if (secret === undefined) return null;
  // The relay has a clock of its own: an application that runs at a set time asks it to hold from now.
  const { username, password } = shortLived(person, Date.now() + HOLDS_MS, secret);
  const stun = own
    ? own.urls.filter((url) => url.startsWith('stun'))
    : (relay?.stun ?? []).map(({ host, port }) => `stun:${host}:${port}`);
  const urls = own?.urls ?? (relay ? urlsOf(relay) : []);
  return { relays: byWay(urls), stun, username, credential: password, until: new Date(until).toISOString() };
}

/** The sites at which a person's phones stand. */
export function sitesOf(
  estate: Estate,
  person: Person,
): readonly { readonly id: string; readonly name: string }[] {
  const own = new Set(person.endpoints.map(({ id }) => id));
  const ids = new Set([
    ...(estate.devices ?? []).flatMap(({ endpoint, site }) =>
      endpoint !== undefined && own.has(endpoint) && site !== undefined ? [site] : [],
    ),
    ...person.endpoints.flatMap(({ path }) => path?.site ?? []),
  ]);
  return (estate.sites ?? []).filter(({ id }) => ids.has(id)).map(({ id, name }) => ({ id, name }));
}

function personOf({ estate, finder }: LiveEstate, { account }: SignedIn): Person {
  const person = finder.person(account.person ?? '');
  if (!person || !estate.people.includes(person))
    throw refusal(404, 'You are not in the directory any more. Ask your mobility specialist.');
  return person;
}

const shown = (
  { estate, finder }: LiveEstate,
  { id, at, person, site, place, measured }: KeptLine,
): LineCheck => ({
  ...measured,
  id,
  at: at.toISOString(),
  person,
  name: finder.person(person)?.name ?? person,
  site,
  place: estate.sites?.find((each) => each.id === site)?.name ?? place ?? 'Another place',
});

/** What of an address is kept: nothing of one that is private, or of this machine. */
const publicOnly = (measured: LineMeasured): LineMeasured => ({
  ...measured,
  outside:
    measured.outside !== null && isIpv4(measured.outside) && mayRelayTo(measured.outside, [])
      ? measured.outside
      : null,
});

/** Lines that people measure from their own page, and what is kept of them. */
export const lineRoutes: readonly Route[] = [
  {
    method: 'GET',
    path: '/api/me/lines',
    roles: ONLY_STAFF,
    unmasked: true,
    handle: async (context) => {
      const live = await context.services.store.current();
      const person = personOf(live, context);
      const lines = await readLines(context.services.db, 'person', person.id, MOST_SHOWN);
      return { body: { sites: sitesOf(live.estate, person), lines: lines.map((each) => shown(live, each)) } };
    },
  },
  {
    /** What a browser needs to measure: it holds for some minutes. */
    method: 'POST',
    path: '/api/me/lines/begin',
    roles: ONLY_STAFF,
    unmasked: true,
    handle: async (context) => {
      const person = personOf(await context.services.store.current(), context);
      const tools = toolsFor(person.id, context.services);
      if (!tools)
        throw refusal(503, 'The relay that lines are measured with is not running. Try again later.');
      return { body: tools };
    },
  },
  {
    method: 'POST',
    path: '/api/me/lines',
    roles: ONLY_STAFF,
    unmasked: true,
    handle: async (context) => {
      const { services } = context;
      const body = checkedBody<{ site: string | null; place: string | null; measured: LineMeasured }>(
        context.body,
        lineBody,
      );
      const live = await services.store.current();
      const person = personOf(live, context);
      const { site, measured } = body;
      if (site !== null && !sitesOf(live.estate, person).some(({ id }) => id === site))
        throw notRight([{ path: 'site', message: 'must be a site at which you have a phone' }]);
      if ((measured.by === null) !== (measured.figures === null))
        throw notRight([{ path: 'measured.figures', message: 'belong to a way that worked' }]);
      const place = site === null ? body.place?.trim() || null : null;
      const line = { at: services.now(), person: person.id, site, place, measured: publicOnly(measured) };
      const isKept = await inTransaction(services.db, (connection) => putLine(connection, line));
      if (!isKept) throw refusal(429, 'You measured a moment ago. Wait a quarter of a minute.');
      const lines = await readLines(services.db, 'person', person.id, MOST_SHOWN);
      return { body: { sites: sitesOf(live.estate, person), lines: lines.map((each) => shown(live, each)) } };
    },
  },
  {
    /** What was measured at a site, or by a person. */
    method: 'GET',
    path: '/api/lines',
    roles: ROLES,
    handle: async ({ services, query }) => {
      const of = query.site === undefined ? 'person' : 'site';
      const id = (query.site ?? query.person ?? '').slice(0, 120);
      if (id === '') throw refusal(400, 'Say of which site or person: ?site=ID or ?person=ID.');
      const live = await services.store.current();
      const lines = await readLines(services.db, of, id, MOST_SHOWN);
      return { body: { lines: lines.map((each) => shown(live, each)) } };
    },
  },
];
