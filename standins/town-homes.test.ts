import type { BoxFile, Estate, PathSettings } from '../core/estate';
import { workedEstate } from '../core/tests/worked';
import type { FromStandins } from './messages';
import { placeCall } from './phones/caller';
import { openPhone, type Phone } from './phones/phone';
import { clockAt } from './sip/clock';
import { until } from './tests/until';
import { openTown, type Town } from './town';

const HOME = 'ines-desk';
const OFFICE = 'tomasz-app';
const given = workedEstate();
/** The worked estate with a code, in which Ines is called at her desk phone alone, at any hour. */
const worked: Estate = {
  ...given,
  dialling: { ...given.dialling, codes: [{ code: '*21', does: 'Twinning', acts: 'twinning' }] },
  people: given.people.map((each) =>
    each.id === 'ines'
      ? {
          ...each,
          plan: {
            rules: [],
            otherwise: {
              stages: [{ ring: [{ endpoint: 'ines-desk' }], forMs: 8000 }],
              ending: { kind: 'mailbox' },
            },
          },
        }
      : each,
  ),
};
const accounts = [HOME, OFFICE].map((endpoint) => ({
  user: endpoint,
  endpoint,
  password: `secret of ${endpoint}`,
}));

/** The worked estate, in which one desk phone stands at home behind a router. */
const withHome = (box: Partial<BoxFile> = {}, path: PathSettings = {}, natMethod = 'stun'): Estate =>
  ({
    ...worked,
    sites: [
      {
        id: 'home',
        name: 'A home',
        kind: 'home',
        network: {
          boxes: [
            {
              id: 'router',
              name: 'Home router',
              in: 'internet',
              inside: '192.168.1.1',
              outside: '203.0.113.7',
              ...box,
            },
          ],
        },
      },
    ],
    servers: [
      {
        id: 'system',
        name: 'Phone system',
        kind: 'system',
        in: 'internet',
        address: '198.51.100.2',
        contactFromSource: true,
        answersToSource: true,
      },
      { id: 'stun', name: 'STUN server', kind: 'stun', in: 'internet', address: '198.51.100.20' },
      { id: 'turn', name: 'TURN server', kind: 'turn', in: 'internet', address: '198.51.100.30' },
    ],
    devices: [
      { id: 'desk', name: 'Desk', model: 'gannet-20', endpoint: HOME, site: 'home', natMethod, path },
    ],
  }) as Estate;

const HELLO = 'hello from Dock office phone';

let caller: Phone;
let ready: Extract<FromStandins, { kind: 'ready' }>;
let town: Town;
let told: FromStandins[] = [];
let seconds = 0;
const of = <K extends FromStandins['kind']>(kind: K) =>
  told.filter((each): each is Extract<FromStandins, { kind: K }> => each.kind === kind);
const registered = () =>
  of('registered')
    .map(({ registration }) => registration)
    .filter(({ endpoint }) => endpoint === HOME);
/** Calls the phone at home from a phone at the machine, and hangs up once it was heard. @returns what was heard */
async function callHome(): Promise<readonly string[]> {
  const server = ready.local.udp;
  const placed = await placeCall({
    phone: caller,
    clock: clockAt(),
    account: accounts[1]!,
    server,
    from: OFFICE,
    to: '4101',
    patienceMs: 1500,
    talkMs: 1500,
    onHeard: (text) => {
      if (text === HELLO) placed.hangUp();
    },
  });
  return (await placed.over).heard;
}

async function openWith(estate: Estate) {
  told = [];
  seconds = 0;
  town = await openTown({
    port: 0,
    routersTime: () => seconds,
    tell: (message) => told.push(message),
    placeOf: () => Promise.resolve({ callerId: '+12505550101', pidf: null }),
    onCode: ({ act }) => Promise.resolve({ says: `${act} is done`, asks: false }),
  });
  [ready] = of('ready') as [typeof ready];
  await town.setPhones([
    { endpoint: HOME, does: 'answers', answerAfterMs: 0 },
    { endpoint: OFFICE, does: 'ready', answerAfterMs: null },
  ]);
  await town.setEstate(estate);
  await town.setAccounts(accounts);
}
beforeAll(async () => {
  caller = await openPhone({ address: '127.0.49.9', clock: clockAt(), manner: () => null });
});
afterAll(() => caller.close());
afterEach(() => town.close());

test.each([
  ['with what STUN tells', 'stun', {}],
  ['by ICE', 'ice', {}],
  ['by a relay', 'turn', {}],
  ['over a connection', 'direct', { transport: 'tcp' }],
] as const)('a phone at home registers and is heard through its router: %s', async (_how, method, path) => {
  await openWith(withHome({}, path, method));
  await until(() => registered().length > 0);
  const [first] = registered();
  expect(first).toMatchObject({ seen: { address: '203.0.113.7' } });
  expect(first?.from.host).toMatch(/^127\./);
  expect(await callHome()).toContain(HELLO);
  // One that is not behind a router is seen nowhere else than it is.
  expect(of('registered').find(({ registration }) => registration.endpoint === OFFICE)).toMatchObject({
    registration: { seen: null },
  });
});

test('calls that a phone at home places come about and end: to a code, and for help', async () => {
  await openWith(withHome());
  await until(() => registered().length > 0);
  expect(await town.press({ endpoint: HOME, code: '*21', typed: [] })).toEqual(['told twinning is done']);
  expect(await town.tryEmergency({ endpoint: HOME, number: '911' })).toMatchObject({
    arrived: { number: '911', callerId: '+12505550101' },
    rang: [HOME],
  });
  // Nothing that belongs to these calls was lost on its way.
  expect(of('way-lost')).toEqual([]);
});

test('once its router has forgotten it a call does not ring there, and what was let go of is told by name', async () => {
  await openWith(withHome({ udpTimeoutS: 60 }));
  await until(() => registered().length > 0);
  expect(await callHome()).toContain(HELLO);
  told = told.filter(({ kind }) => kind !== 'way-lost');
  seconds = 61;
  expect(await callHome()).toEqual([]);
  expect(of('way-lost')[0]).toMatchObject({
    lost: {
      endpoint: HOME,
      packet: 'INVITE',
      lost: { reason: 'no-mapping', at: 'Home router', to: { address: '203.0.113.7' } },
    },
  });
});

test('a network that is changed is taken up at once: routers are opened anew, and the phone registers by them', async () => {
  await openWith(withHome());
  await until(() => registered().length > 0);
  await town.setEstate(withHome({ outside: '203.0.113.99' }));
  await until(() => registered().some(({ seen }) => seen?.address === '203.0.113.99'));
  expect(await callHome()).toContain(HELLO);
  // Taken out of the home it stands at the machine as the others do.
  await town.setEstate(worked);
  await until(() => registered().at(-1)?.seen === null);
  expect(await callHome()).toContain(HELLO);
});

test('where nothing gets out nobody is kept waiting, and the phone is not registered', async () => {
  await openWith(withHome({ blocked: ['udp', 'tcp'] }));
  await until(() => of('way-lost').length > 0);
  expect(registered()).toEqual([]);
  expect(of('registered').some(({ registration }) => registration.endpoint === OFFICE)).toBe(true);
  expect(of('way-lost')[0]).toMatchObject({ lost: { lost: { reason: 'blocked', at: 'Home router' } } });
  // Others are taken down and come again while its own sign-off is answered by nobody.
  await town.setEstate(withHome({ blocked: ['udp', 'tcp', 'udp:5060'] }));
  expect(of('registered').some(({ registration }) => registration.endpoint === OFFICE)).toBe(true);
  // Whoever calls there is with the mailbox as soon as nothing rings.
  expect(await callHome()).toEqual(['mailbox of Ines']);
});

test('of what was let go of nobody is told whom it was to: that may be a private number', async () => {
  const SECRET = '+17785550199';
  await openWith(withHome());
  await until(() => registered().length > 0);
  await town.setEstate(withHome({ blocked: ['udp'] }));
  await until(() => of('way-lost').length > 0);
  void town.press({ endpoint: HOME, code: SECRET, typed: [] });
  await until(() => of('way-lost').some(({ lost }) => lost.packet === 'INVITE'));
  expect(JSON.stringify(of('way-lost'))).not.toContain(SECRET.slice(1));
});
