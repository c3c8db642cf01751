import pino from 'pino';
import type { Estate, Person } from '../../core/estate';
import { workedEstate } from '../../core/tests/worked';
import { whoIsSignedOn } from '../desks';
import { openSwitchboard, type Switchboard } from '../switchboard/switchboard';
import { testServer, type TestServer } from '../test';
import { actOnCode } from './codes';
import { until } from '../../standins/tests/until';

const as = 'specialist' as const;
const CODES: Estate['dialling']['codes'] = [
  { code: '*21', does: 'Twinning', acts: 'twinning' },
  { code: '#22', does: 'Sign on', acts: 'sign-on' },
  { code: '*31', does: 'Withholds the number', acts: 'withhold' },
  { code: '*70', does: 'Says the time' },
];
const worked = workedEstate();
const HOT = 'whichever-desk';
/** Without a mobile of their own, and with whichever shared desk they sign on to. */
const bare = (person: Person): Person => ({
  ...person,
  permission: ines.permission,
  endpoints: [
    ...person.endpoints.filter((each) => each.number === undefined),
    { id: HOT, label: 'Shared desk', kind: 'hot-desk' },
  ],
  plan: { rules: [], otherwise: { stages: [], ending: { kind: 'mailbox' } } },
});
const desk = (person: Person) => person.endpoints.find(({ kind }) => kind === 'desk')!;
const [ines, other] = [
  worked.people.find(({ id }) => id === 'ines')!,
  worked.people.find((each) => each.id !== 'ines' && each.endpoints.some(({ kind }) => kind === 'desk'))!,
];
const estate: Estate = {
  ...worked,
  dialling: { ...worked.dialling, codes: CODES },
  people: worked.people.map((each) => (each.id === other.id ? bare(each) : each)),
  devices: [{ id: 'shared', name: 'Shared desk', model: 'gannet-60' }],
  desks: [{ id: 'hall', name: 'Hall desk', device: 'shared' }],
};

let server: TestServer;
beforeAll(async () => {
  process.env.HOSTLER_SIP_PORT = '0';
  let phones: Switchboard | null = null;
  server = await testServer(estate, (services) => {
    phones = openSwitchboard({
      ...services,
      log: pino({ level: 'silent' }),
      signedOn: whoIsSignedOn(services.db),
      onCode: (dialled) => actOnCode({ ...services, phones: phones! }, dialled),
    });
    return phones;
  });
});
afterAll(() => server.stop());

const ask = (method: string, path: string, body?: unknown) => server.ask(method, path, { as, body });
/** Presses a code once the phone is there. */
async function press(endpoint: string, code: string, ...typed: string[]): Promise<readonly string[]> {
  return until(async () => {
    const { status, body } = await ask('POST', `/api/phones/${endpoint}/press`, { code, typed });
    if (status === 200) return body.heard as string[];
    expect(status).toBe(409);
    return null;
  });
}
const person = async (id: string): Promise<Person> => (await ask('GET', `/api/people/${id}`)).body.person;
const mobileRings = ({ plan, endpoints }: Person): boolean => {
  const own = new Set(endpoints.flatMap(({ id, number }) => (number === undefined ? [] : [id])));
  return [...plan.rules, plan.otherwise].some(({ stages }) =>
    stages.some(
      (stage) => 'ring' in stage && stage.ring.some((t) => own.has(t.endpoint) && t.enabled !== false),
    ),
  );
};

test('the twinning code, dialled at a phone over SIP, switches off and on again, and is recorded as their own', async () => {
  expect(mobileRings(await person('ines'))).toBe(true);
  expect(await press(desk(ines).id, '*21')).toEqual(['Twinning is off.']);
  expect(mobileRings(await person('ines'))).toBe(false);
  expect(await press(desk(ines).id, '*21')).toEqual(['Twinning is on.']);
  expect(mobileRings(await person('ines'))).toBe(true);
  const { entries } = (await ask('GET', '/api/record?kind=own-change')).body;
  expect(entries[0]).toMatchObject({ who: ines.name, personId: 'ines', canTakeBack: expect.any(Boolean) });
});

test('a number that is typed after its code is called with the own number withheld', async () => {
  const heard = await press(desk(ines).id, '*31', '6045550199');
  expect(heard).toEqual([
    'The number, then the hash key. Yours is not shown.',
    'calls +16045550199',
    'hello from +16045550199',
  ]);
  expect(await press(desk(ines).id, '*31', '12')).toEqual([
    'The number, then the hash key. Yours is not shown.',
    'There is no such number.',
  ]);
});

test('beyond the limits it becomes a request, and says so', async () => {
  const path = '/api/own/limits?person=ines';
  const { limits } = (await ask('GET', path)).body;
  expect((await ask('PUT', path, { limits: { ...limits, twinning: false } })).status).toBe(200);
  const heard = await press(desk(ines).id, '*21');
  expect(heard[0]).toContain('It has been asked for.');
  expect(mobileRings(await person('ines'))).toBe(true);
});

test('who has no mobile is asked for its number the first time, typed at the keys; a number that is none is told', async () => {
  const id = desk(other).id;
  expect(await press(id, '*21', '12')).toEqual([
    'Which number shall ring too? End with the hash key.',
    '12 is no number that can be called.',
  ]);
  const heard = await press(id, '*21', '12505550188');
  expect(heard[1]).toBe('Twinning is on, with +1 250 555 0188.');
  expect(mobileRings(await person(other.id))).toBe(true);
});

/** Dials the code to sign on at the shared desk, once its phone is there. */
async function dial(...typed: string[]): Promise<string | undefined> {
  const heard = await until(async () => {
    const { status, body } = await ask('POST', '/api/desks/hall/press', { typed });
    if (status === 200) return body.heard as string[];
    expect(status).toBe(409);
    return null;
  });
  return heard.at(-1);
}
const sitting = async () => (await ask('GET', '/api/desks/sitting')).body.desks[0].sitting?.person ?? null;
const extension = other.lines[0]!.extension;
const WRONG = 'This extension and PIN do not go together.';
/** Which endpoint the desk's phone is registered for, once that is the one. */
const registeredFor = (wanted: string): Promise<string> =>
  until(async () => {
    const { registrations } = (await ask('GET', '/api/phones')).body;
    const found = (registrations as { endpoint: string; userAgent: string }[]).find(
      ({ userAgent }) => userAgent === 'Stand-in Hall desk',
    )?.endpoint;
    return found === wanted && found;
  });

test('at a shared desk one signs on over SIP by extension and PIN, its phone is theirs then, and off by its code', async () => {
  await ask('POST', `/api/people/${other.id}/pin`, { pin: '480263' });
  await ask('POST', '/api/people/ines/pin', { pin: '915472' });
  expect(await registeredFor('desk/hall')).toBe('desk/hall');
  expect(await dial(extension, '111111')).toBe(WRONG);
  // Somebody that there is not sounds the same; who has no shared desk among their phones is told so.
  expect(await dial('9999', '111111')).toBe(WRONG);
  expect(await dial(ines.lines[0]!.extension, '915472')).toBe('They have no shared desk among their phones.');
  expect(await sitting()).toBeNull();
  expect(await dial(extension, '480263')).toBe(`${other.name} is signed on.`);
  expect(await sitting()).toBe(other.id);
  expect(await registeredFor(HOT)).toBe(HOT);
  expect(await dial()).toBe(`${other.name} is signed on. 1 signs off, 2 signs on. End with the hash key.`);
  expect(await dial('2')).toBe(`${other.name} sits here.`);
  expect(await dial('1')).toBe(`${other.name} is signed off.`);
  expect(await sitting()).toBeNull();
  expect(await registeredFor('desk/hall')).toBe('desk/hall');
  expect(await press(desk(ines).id, '#22')).toEqual(['This phone is no shared desk.']);
  const { entries } = (await ask('GET', '/api/record?kind=desk-sign-on')).body;
  expect(entries).toMatchObject([{ who: other.name, personId: other.id, subject: 'Hall desk' }]);
});

test('a PIN cannot be tried out: after a few wrong ones even the right one is not taken for a while', async () => {
  const tries: (string | undefined)[] = [];
  for (let n = 0; n < 5; n += 1) tries.push(await dial(extension, `90000${n}`));
  expect(new Set(tries)).toEqual(new Set([WRONG]));
  expect(await dial(extension, '480263')).toBe('Too many wrong tries. Wait a quarter of an hour.');
});

test('a code that does nothing here is refused beside its field', async () => {
  const { status, body } = await ask('POST', `/api/phones/${desk(ines).id}/press`, { code: '*70' });
  expect([status, body.faults[0].path]).toEqual([400, 'code']);
});
