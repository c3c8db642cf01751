import type { NetworksPage, RelayPage } from '../../api/networks';
import { whenRelayStops } from '../../core/devices/relay';
import { refusal, ROLES } from '../base';
import type { Route } from '../http';

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
