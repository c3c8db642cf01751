import { DateTime } from 'luxon';
import type { EmergencyTry } from '../../api/safety';
import { emergencyNumbers } from '../../core/calls/dialling';
import { sayCivic, saysOwnPlace } from '../../core/emergency';
import { parts, personSchema, faultsOf, type Civic, type SaidPlace } from '../../core/estate';
import { zoneNamed } from '../../core/zones';
import { notRight, refusal, STAFF } from '../base';
import { checkedBody, me, type Route } from '../http';
import { changePerson } from '../people';
import { addRecord } from '../record';
import { pidfOf } from './emergency';
import { markNow, ownPlaces, safetyPage } from './rows';

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
      const text = await pidfOf(services, params.endpoint ?? '');
      if (text === null) throw refusal(404, 'There is no place of this phone to send.');
      return {
        text,
        headers: { 'Content-Type': 'application/pidf+xml; charset=utf-8' },
      };
    },
  },
  {
    /** An emergency number dialled at the stand-in of a phone: it goes to the emergency desk of the stand-in carrier. */
    method: 'POST',
    path: '/api/safety/:endpoint/try',
    roles: ['specialist'],
    handle: async ({ services, params, account }) => {
      const { estate, finder } = await services.store.current();
      const id = params.endpoint ?? '';
      const person = finder.ownerOf(id);
      const endpoint = person?.endpoints.find((each) => each.id === id);
      if (!person || !endpoint) throw refusal(404, 'There is no such phone.');
      const [number = '112'] = [...emergencyNumbers(estate.dialling.country)].reverse();
      const dialled = emergencyNumbers(estate.dialling.country).includes('911') ? '911' : number;
      const tried = await services.phones.tryEmergency(id, dialled);
      if (!tried)
        throw refusal(409, 'The simulated phone is not there: it is switched off, or none stands in for it.');
      await addRecord(services.db, {
        who: account.name,
        kind: 'emergency-tried',
        personId: person.id,
        subject: endpoint.label,
        detail: tried.arrived ? 'arrived at the emergency desk' : 'did not arrive',
      });
      const rang = tried.rang?.map((each) => {
        const owner = finder.ownerOf(each);
        const phone = owner?.endpoints.find((one) => one.id === each);
        return { endpoint: each, says: owner && phone ? `${owner.name}: ${phone.label}` : each };
      });
      return {
        body: {
          arrived: tried.arrived && {
            number: tried.arrived.number,
            callerId: tried.arrived.callerId,
            place: tried.arrived.civic && sayCivic(tried.arrived.civic),
            fault: tried.arrived.fault,
            geolocation: tried.arrived.geolocation,
          },
          rang: rang ?? null,
          rangThis: tried.rang?.includes(id) ?? false,
        } satisfies EmergencyTry,
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
