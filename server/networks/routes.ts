import { mixed, string } from 'yup';
import type { NetworksPage, RelayPage, WayAsked, WayTry } from '../../api/networks';
import { whenRelayStops } from '../../core/devices/relay';
import { NOT_TRIED_WORDS, readNetwork, whyNotTried } from '../../core/network';
import { parts } from '../../core/estate';
import { refusal, ROLES } from '../base';
import { addRecord } from '../record';
import { checkedBody, type Route } from '../http';

const askedWay = parts.closed({ network: mixed().required(), phone: string().min(1).max(300).required() });

export const networkRoutes: readonly Route[] = [
  {
    method: 'GET',
    path: '/api/sites/:id/relay',
    roles: ROLES,
    handle: async ({ services: { store, now }, params }) => {
      const { estate, index } = await store.current();
      const site = estate.sites?.find(({ id }) => id === params.id);
      if (!site) throw refusal(404, 'There is no such site.');
      return { body: { losses: whenRelayStops(index, site, now().getTime()) } satisfies RelayPage };
    },
  },
  {
    /** A phone of a network tried with real packets behind stand-in routers, as it is edited. */
    method: 'POST',
    path: '/api/networks/try',
    roles: ['specialist', 'help-desk'],
    handle: async ({ services: { db, phones }, account, body }) => {
      const { network: file, phone } = checkedBody<WayAsked>(body, askedWay);
      const read = readNetwork(file);
      if (!read.ok)
        throw refusal(400, 'This network cannot be tried.', {
          faults: read.faults.map((fault) => ({ ...fault, path: `network.${fault.path}` })),
        });
      const why = whyNotTried(read.network, phone);
      if (why !== null) throw refusal(409, NOT_TRIED_WORDS[why]);
      const tried = await phones.tryWay(read.network, phone);
      if (!tried) throw refusal(503, 'The stand-ins could not try it. Try again in a moment.');
      const name = read.network.phones.find(({ id }) => id === phone)?.name ?? phone;
      await addRecord(db, {
        who: account.name,
        kind: 'way-tried',
        subject: name,
        detail: `in the network “${read.network.name}”`,
      });
      return { body: { tried } satisfies WayTry };
    },
  },
  {
    method: 'GET',
    path: '/api/networks',
    roles: ROLES,
    handle: async ({ services: { store } }) => {
      const { sites = [], servers = [], devices = [], people } = (await store.current()).estate;
      const used = new Set(devices.flatMap(({ endpoint }) => (endpoint === undefined ? [] : [endpoint])));
      return {
        body: {
          sites,
          servers,
          devices: devices.filter(({ site }) => site !== undefined),
          // Numbers and plans are nothing that a way through a network asks for.
          people: people.flatMap((person) => {
            const endpoints = person.endpoints
              .filter(({ id, path }) => path?.site !== undefined || used.has(id))
              .map(({ id, label, kind, path }) => ({ id, label, kind, ...(path ? { path } : {}) }));
            return endpoints.length === 0
              ? []
              : [
                  {
                    ...person,
                    endpoints,
                    lines: [],
                    plan: { rules: [], otherwise: { stages: [], ending: { kind: 'mailbox' as const } } },
                  },
                ];
          }),
        } satisfies NetworksPage,
      };
    },
  },
];
