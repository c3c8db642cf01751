import pino from 'pino';
import { deskEndpoint } from '../../core/desks';
import type { Estate, Person } from '../../core/estate';
import { workedEstate } from '../../core/tests/worked';
import { hashCode } from '../auth';
import { actOnCode } from '../own';
import { openSwitchboard, type Switchboard } from '../switchboard/switchboard';
import { testServer, type TestServer } from '../test';
import { until } from '../../standins/tests/until';
import { openSignOns } from './queries';
import { whoIsSignedOn } from './sweep';

/** Who comes at the change of a shift, one for each desk: more than could wait for a PIN before. */
const COMERS = 48;
const PIN = '480263';
const worked = workedEstate();
const [first] = worked.people as readonly [Person];
const comer = (n: number): Person => ({
  ...first,
  id: `comer-${n}`,
  name: `Comer ${n}`,
  lines: [{ id: `line-${n}`, extension: String(7000 + n), numbers: [] }],
  endpoints: [{ id: `hot-${n}`, label: 'Shared desk', kind: 'hot-desk' }],
  plan: {
    rules: [],
    otherwise: { stages: [{ ring: [{ endpoint: `hot-${n}` }], forMs: 20_000 }], ending: { kind: 'mailbox' } },
  },
});
const each = <T>(make: (n: number) => T) => Array.from({ length: COMERS }, (_none, n) => make(n));
const estate: Estate = {
  ...worked,
  dialling: { ...worked.dialling, codes: [{ code: '*70', does: 'Sign on', acts: 'sign-on' }] },
  people: each(comer),
  groups: [],
  menus: [],
  promises: [],
  devices: each((n) => ({ id: `phone-${n}`, name: `Phone ${n}`, model: 'gannet-60' })),
  desks: each((n) => ({ id: `desk-${n}`, name: `Desk ${n}`, device: `phone-${n}` })),
};

let server: TestServer;
let phones: Switchboard;
beforeAll(async () => {
  process.env.HOSTLER_SIP_PORT = '0';
  server = await testServer(estate, (services) => {
    phones = openSwitchboard({
      ...services,
      log: pino({ level: 'silent' }),
      signedOn: whoIsSignedOn(services.db),
      onCode: (dialled) => actOnCode({ ...services, phones }, dialled),
    });
    return phones;
  });
  const hash = await hashCode(PIN);
  const now = new Date();
  await server.db.query('INSERT INTO person_pin (person_id, hash, set_at, set_by) VALUES ?', [
    each((n) => [`comer-${n}`, hash, now, 'a test']),
  ]);
  await until(() => (phones.registrations().length >= COMERS ? true : null));
});
afterAll(() => server.stop());

test('everybody of a shift signs on at once, each at a phone by code and PIN, and is there', async () => {
  const heard = await Promise.all(
    each((n) => phones.press(deskEndpoint(`desk-${n}`), '*70', [String(7000 + n), PIN])),
  );
  expect(heard.map((all) => all?.at(-1))).toEqual(each((n) => `told Comer ${n} is signed on.`));
  const open = await openSignOns(server.db);
  expect(new Set(open.map(({ desk, person }) => `${desk} ${person}`))).toEqual(
    new Set(each((n) => `desk-${n} comer-${n}`)),
  );
  expect(open).toHaveLength(COMERS);
  // Each phone is that of whoever sits there.
  const registered = () => new Set(phones.registrations().map(({ endpoint }) => endpoint));
  await until(() => (each((n) => `hot-${n}`).every((id) => registered().has(id)) ? true : null));
});
