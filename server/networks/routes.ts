import type { NetworksPage } from '../../api/networks';
import { ROLES } from '../base';
import type { Route } from '../http';

export const networkRoutes: readonly Route[] = [
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
