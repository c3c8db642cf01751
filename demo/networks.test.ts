import { isWayComplaint, wayCauses, wayComplaintsOf } from '../core/assurance/diagnosis';
import { skerrowSoundFerries } from './skerrow';
import { NAT_METHODS, readEstate, referenceFaults, type Estate, type Site } from '../core/estate';
import {
  networkOf,
  networkVerdicts,
  readNetwork,
  nameIn,
  NETWORK_KINDS,
  pathAnswers,
  siteAnswers,
  verdictsOf,
  topologyOf,
  helperOf,
  pathWith,
  wayHome,
  type SiteNetworkOf,
  type Way,
} from '../core/network';

const estate = skerrowSoundFerries();
const at = (site: string, of: Estate = estate): SiteNetworkOf => {
  const found = networkOf(of, site);
  if (typeof found === 'string') throw new Error(found);
  return found;
};
const withSite = (id: string, change: (site: Site) => Site): Estate => ({
  ...estate,
  sites: (estate.sites ?? []).map((site) => (site.id === id ? change(site) : site)),
});

test('every site of the demo gives a network that a file could hold', () => {
  for (const { id, network } of estate.sites ?? []) {
    if (!network) continue;
    expect(readNetwork(at(id).file)).toMatchObject({ ok: true });
  }
});

test('a phone in the office is near the system, one at home goes by the public address', () => {
  const [office] = networkVerdicts(at('harbour').network);
  expect(office?.registers.trace.map(({ where }) => where)).not.toContain('internet');
  const [home] = networkVerdicts(at('home-ruth').network);
  expect(home?.registers.trace.find(({ packet }) => packet === 'REGISTER')?.destination).toBe(
    '198.51.100.2:5060',
  );
});

test('what a site says of its router counts where the box says nothing', () => {
  const helper = (of: Estate) =>
    at('home-ruth', of).network.boxes.find(({ id }) => id === 'box:home-ruth:router')?.sipHelper;
  expect(helper(estate)).toBe('breaks-contact');
  expect(helper(withSite('home-ruth', ({ sipAlg: _gone, ...site }) => site))).toBe('none');
  expect(
    helper(
      withSite('home-ruth', (site) => ({
        ...site,
        network: {
          boxes: (site.network?.boxes ?? []).map((box) => ({ ...box, sipHelper: 'rewrites-well' as const })),
        },
      })),
    ),
  ).toBe('rewrites-well');
});

test('addresses of phones are their own, and free ones where none is known', () => {
  const { network } = at('harbour');
  const addresses = network.phones.map(({ in: where, address }) => `${where} ${address}`);
  expect(new Set(addresses).size).toBe(addresses.length);
  expect(network.phones.every(({ address }) => address.startsWith('10.0.0.'))).toBe(true);
});

test('the relay of a site is that of its phones, and falls silent with them', () => {
  const of = at('north-landing');
  const relay = of.network.phones.find(({ id }) => id === 'device:north-landing-relay');
  if (!relay) throw new Error('no relay');
  expect(verdictsOf(topologyOf(of.network), relay).survives.relayStops).toEqual([
    'device:phone-gita-yarrow-desk',
    'device:north-landing-gate',
  ]);
});

test('it says why there is none', () => {
  expect(networkOf(estate, 'nowhere')).toBe('no-site');
  expect(networkOf(estate, 'yard')).toBe('no-network');
  expect(networkOf({ ...estate, servers: [] }, 'harbour')).toBe('no-servers');
  const twice = withSite('home-ruth', (site) => ({
    ...site,
    network: { boxes: (site.network?.boxes ?? []).map((box) => ({ ...box, outside: '198.51.100.2' })) },
  }));
  expect(networkOf(twice, 'home-ruth')).toBe('address-twice');
});

test.each(NETWORK_KINDS.map((kind) => [kind.name, kind] as const))(
  '“%s” can be begun with',
  (_name, { boxes }) => {
    const of = withSite('home-ruth', (site) => ({ ...site, network: { boxes } }));
    expect(readEstate(of)).toMatchObject({ ok: true });
    expect(readNetwork(at('home-ruth', of).file)).toMatchObject({ ok: true });
  },
);

test.each([
  [
    'a box in one that is not there',
    (site: Site) => ({
      ...site,
      network: { boxes: (site.network?.boxes ?? []).map((box) => ({ ...box, in: 'cellar' })) },
    }),
    'there is no box "cellar" at this site',
  ],
  [
    'boxes that go round',
    (site: Site) => ({
      ...site,
      network: { boxes: (site.network?.boxes ?? []).map((box) => ({ ...box, in: box.id })) },
    }),
    'goes round: it never leads to the internet',
  ],
  [
    'an address twice',
    (site: Site) => ({
      ...site,
      network: {
        boxes: [
          ...(site.network?.boxes ?? []),
          ...(site.network?.boxes ?? []).map((box) => ({ ...box, id: 'b', inside: '10.9.9.1' })),
        ],
      },
    }),
    '203.0.113.7 is that of Home router in the same network',
  ],
])('%s is a fault of the estate', (_name, change, message) => {
  expect(referenceFaults(withSite('home-ruth', change)).map((fault) => fault.message)).toContain(message);
});

test('a server stands where a site has a box, and there is one of each kind', () => {
  const servers = (estate.servers ?? []).map((server) => ({ ...server, in: 'harbour/attic' }));
  expect(referenceFaults({ ...estate, servers })[0]).toMatchObject({ path: 'servers[0].in' });
  const [first] = estate.servers ?? [];
  if (!first) throw new Error('no server');
  expect(referenceFaults({ ...estate, servers: [first, { ...first, id: 'other' }] })[0]).toMatchObject({
    path: 'servers[1].kind',
    message: 'Phone system is one already',
  });
});

test('phones that are alike are gone through once, and each is answered as by itself', () => {
  for (const site of ['harbour', 'north-landing', 'home-ruth', 'home-priya']) {
    const of = at(site);
    const topology = topologyOf(of.network);
    const name = nameIn(of);
    for (const { phone, answers } of siteAnswers(of)) {
      const own = pathAnswers(verdictsOf(topology, phone), name);
      expect(answers.map(({ id, works, says }) => [id, works, says])).toEqual(
        own.map(({ id, works, says }) => [id, works, says]),
      );
    }
  }
});

describe('Complaints about a way', () => {
  const person = (id: string) => {
    const found = estate.people.find((each) => each.id === id);
    if (!found) throw new Error(id);
    return found;
  };
  const causes = (id: string, complaint: string, of: Estate = estate) =>
    wayCauses(of, person(id), complaint).causes;

  test('are those of people whose phones stand in a network that is known', () => {
    expect(wayComplaintsOf(estate, person('priya')).map(({ id }) => id)).toContain('dead-after-a-while');
    expect(wayComplaintsOf({ ...estate, servers: [] }, person('priya'))).toEqual([]);
    expect(['one-way-sound', 'mobile-silent'].map(isWayComplaint)).toEqual([true, false]);
  });
  test('“later no more” is the keep-alive that is too long, with how to tell it and what works there', () => {
    expect(causes('priya', 'dead-after-a-while')).toEqual([
      {
        id: 'device:phone-priya-desk rings',
        says: 'Priya Raman, Office phone stops ringing after a while',
        because: 'After 30 s it does not ring: behind Home router no phone has the port it is sent to.',
        tell: 'Restart it and call it at once: it rings. Call it again 40 s later: it does not.',
        mend: expect.stringMatching(/^Of what works there .+ over .+ needs least: set /),
        site: 'home-priya',
      },
    ]);
    expect(causes('priya', 'one-way-sound')).toEqual([]);
    expect(causes('ruth', 'only-in-the-office').map(({ id }) => id)).toEqual([
      'device:phone-ruth-desk rings',
    ]);
  });
  test('“only one hears the other” is found where a router breaks the sound in SIP', () => {
    const broken = withSite('home-ruth', (site) => ({ ...site, sipAlg: 'breaks-sdp' }));
    expect(causes('ruth', 'one-way-sound', broken).map(({ id }) => id)).toEqual([
      'device:phone-ruth-desk soundIn',
    ]);
  });
});

describe('a phone taken home gets the way that its packets take there', () => {
  const device = (estate.devices ?? []).find(({ id }) => id === 'phone-ruth-desk')!;
  const all = NAT_METHODS;
  const works = (site: string, { method, ...way }: Way) => {
    const { natMethod: _before, ...rest } = device;
    const taken = { ...rest, site, natMethod: method, path: pathWith(undefined, { method, ...way }) };
    const of = at(site, {
      ...estate,
      devices: [...(estate.devices ?? []).filter(({ id }) => id !== device.id), taken],
    });
    const found = siteAnswers(of).find(({ placed }) => placed.of === device.id)!;
    return found.answers.filter(({ id }) => id !== 'addressChange').every((answer) => answer.works);
  };
  test.each(['home-ruth', 'home-priya'])('%s', (site) => {
    const found = wayHome(estate, device, site, all);
    if (!found.ok) throw new Error(found.why);
    expect(works(site, found.way)).toBe(true);
  });
  test('only by what its model can do, or not at all', () => {
    const only = wayHome(estate, device, 'home-ruth', ['vpn', 'border-controller']);
    expect(only.ok && only.way.method).toBe('border-controller');
    expect(wayHome(estate, device, 'home-ruth', ['branch-relay'])).toEqual({ ok: false, why: 'no-way' });
    expect(wayHome(estate, device, 'yard', all)).toEqual({ ok: false, why: 'no-network' });
  });
  test('the server that a way wants to be told of is the organisation’s own', () => {
    expect(helperOf(estate, 'stun')?.kind).toBe('stun');
    expect(helperOf(estate, 'border-controller')).toMatchObject({ kind: 'border-controller', port: 5060 });
    expect([helperOf(estate, 'direct'), helperOf({}, 'turn')]).toEqual([null, null]);
  });
});
