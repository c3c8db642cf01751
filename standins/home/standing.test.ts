import type { Estate } from '../../core/estate';
import { workedEstate } from '../../core/tests/worked';
import { standingBehind, withOurPorts } from './standing';

const worked = workedEstate();
const router = {
  id: 'router',
  name: 'Router',
  in: 'internet',
  inside: '192.168.1.1',
  outside: '203.0.113.7',
};
const servers = [
  { id: 'system', name: 'System', kind: 'system', in: 'internet', address: '198.51.100.2' },
] as Estate['servers'];
const device = { id: 'desk', name: 'Desk', model: 'gannet-20', endpoint: 'ines-desk', site: 'home' };
const withPath = (path: object): Estate['people'] =>
  worked.people.map((each) => ({
    ...each,
    endpoints: each.endpoints.map((own) => (own.id === 'tomasz-app' ? { ...own, path } : own)) as never,
  }));
const estate = (more: Partial<Estate> = {}): Estate =>
  ({
    ...worked,
    servers,
    devices: [device],
    sites: [
      { id: 'home', name: 'A home', kind: 'home', network: { boxes: [router] } },
      { id: 'plain', name: 'No router', kind: 'home', network: { boxes: [] } },
    ],
    ...more,
  }) as Estate;

test('telephones and apps of a site stand behind its router; what no router or no server is known of does not', () => {
  expect([...standingBehind(estate()).keys()]).toEqual(['ines-desk']);
  const both = standingBehind(estate({ people: withPath({ site: 'home' }) }));
  expect([...both.keys()]).toEqual(['ines-desk', 'tomasz-app']);
  expect(both.get('ines-desk')?.home).toBe(both.get('tomasz-app')?.home);
  expect(standingBehind(estate({ people: withPath({ site: 'plain' }) })).has('tomasz-app')).toBe(false);
  expect(standingBehind(estate({ servers: [] })).size).toBe(0);
  expect(standingBehind(estate({ devices: [{ ...device, natMethod: 'vpn' } as never] })).size).toBe(0);
});

test('the routers of a site are others once anything of them is', () => {
  const homeOf = (box: object) =>
    standingBehind(
      estate({ sites: [{ id: 'home', name: 'A home', kind: 'home', network: { boxes: [box as never] } }] }),
    ).get('ines-desk')?.home;
  expect(homeOf(router)).toBe(homeOf({ ...router }));
  expect(homeOf(router)).not.toBe(homeOf({ ...router, udpTimeoutS: 30 }));
});

test('what leads to the ports of the phone system, or is blocked on the way there, is so of the ports it has here', () => {
  const forwards = [
    { proto: 'udp' as const, ports: '5060', to: '10.0.0.10' },
    { proto: 'udp' as const, ports: '10000', to: '10.0.0.10' },
    { proto: 'tcp' as const, ports: '443', to: '10.0.0.11' },
  ];
  const { network } = [
    ...standingBehind(
      estate({
        sites: [
          {
            id: 'home',
            name: 'A home',
            kind: 'home',
            network: { boxes: [{ ...router, forwards, blocked: ['udp', 'tcp:5061'] }] },
          },
        ],
      }),
    ).values(),
  ][0]!;
  const [box] = withOurPorts(network, { port: 40_123, tlsPort: 40_124 }).boxes;
  expect(box?.forwards.map(({ ports }) => ports)).toEqual(['5060', '40123', '10000', '10000-10100', '443']);
  expect(box?.blocked).toEqual(['udp', 'tcp:5061', 'tcp:40124']);
});
