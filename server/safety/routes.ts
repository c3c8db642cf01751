import { DateTime } from 'luxon';
import { sayCivic, saysOwnPlace, writePidfLo } from '../../core/emergency';
import { isoIn } from '../../core/calls/time';
import { parts, personSchema, faultsOf, type Civic, type SaidPlace } from '../../core/estate';
import { zoneNamed } from '../../core/zones';
import { notRight, refusal, STAFF } from '../base';
import { checkedBody, me, type Route } from '../http';
import { changePerson } from '../people';
import { locationOf, markNow, ownPlaces, safetyPage } from './rows';

const ONLY_STAFF = [STAFF] as const;
const MAY_SEE = ['specialist', 'manager'] as const;

const placeBody = parts.closed<{ endpoint: string; civic: Civic }>({
  endpoint: parts.requiredId(),
  civic: parts.anything(),
});

export const safetyRoutes: readonly Route[] = [
  {
    method: 'GET',
    path: '/api/safety',
    roles: MAY_SEE,
    handle: async ({ services, account }) => ({
      body: await safetyPage(services, account.role === 'specialist'),
    }),
  },
  {
    /** The location of a phone as it would be sent (PIDF-LO). */
    method: 'GET',
    path: '/api/safety/:endpoint/location',
    roles: ['specialist'],
    handle: async ({ services, params }) => {
      const found = await locationOf(services, params.endpoint ?? '');
      if (!found) throw refusal(404, 'There is no place of this phone to send.');
      const { estate } = await services.store.current();
      return {
        text: writePidfLo({
          entity: `pres:${encodeURIComponent(found.person.id)}@organisation.invalid`,
          device: `phone-${found.endpoint.id.replace(/[^\w.-]/g, '-')}`,
          civic: found.civic,
          at: isoIn(services.now().getTime(), estate.timeZone),
        }),
        headers: { 'Content-Type': 'application/pidf+xml; charset=utf-8' },
      };
    },
  },
  {
    method: 'GET',
    path: '/api/own/places',
    roles: ONLY_STAFF,
    unmasked: true,
    handle: async (context) => {
      const { person } = await me(context);
      return { body: await ownPlaces(context.services, person) };
    },
  },
  {
    /** Says where a phone of one's own is, from where it is registered now. */
    method: 'PUT',
    path: '/api/own/place',
    roles: ONLY_STAFF,
    unmasked: true,
    handle: async (context) => {
      const { services } = context;
      const { endpoint, civic } = checkedBody<{ endpoint: string; civic: Civic }>(context.body, placeBody);
      const { live, person } = await me(context);
      const known = person.endpoints.find(({ id }) => id === endpoint);
      if (!known || !saysOwnPlace(known)) throw refusal(404, 'You have no such phone.');
      const from = await markNow(services, endpoint);
      const place: SaidPlace = {
        civic,
        saidOn: DateTime.fromMillis(services.now().getTime(), {
          zone: zoneNamed(live.estate.timeZone),
        }).toFormat('yyyy-MM-dd'),
        by: person.name,
        ...(from === null ? {} : { from }),
      };
      const at = person.endpoints.indexOf(known);
      const changed = {
        ...person,
        endpoints: person.endpoints.map((each) => (each.id === endpoint ? { ...each, place } : each)),
      };
      const beside = `endpoints[${at}].place.`;
      const faults = faultsOf(personSchema, changed).map(({ path, message }) => ({
        path: path.startsWith(beside) ? path.slice(beside.length) : path,
        message,
      }));
      if (faults.length > 0) throw notRight(faults);
      if (sayCivic(civic) === '') throw notRight([{ path: 'civic.RD', message: 'is missing' }]);
      await changePerson(services, person.name, person.id, {
        kind: 'own-change',
        detail: `where ${known.label} is`,
        change: (stored) => ({
          ...stored,
          endpoints: stored.endpoints.map((each) => (each.id === endpoint ? { ...each, place } : each)),
        }),
      });
      return { body: await ownPlaces(services, (await me(context)).person) };
    },
  },
];
