import fc from 'fast-check';
import { KEY_USES, type Device, type Endpoint, type Estate, type PhoneKey } from '../../estate';
import { modelOf, MODELS } from '../phones';
import { crewOf, mobileOf, personOf, ringing, smallEstate } from '../../tests/small';
import { afterStep, lockedUntil, nextStep, NOT_BEGUN, type Progress, type Step } from './progress';
import { keyFaults, usualKeys } from './keys';
import { partsChanged, settingsFor, type SettingsOf } from './settings';
import { readPhoneList } from './list';
import { readSettings, writeSettingsJson, writeSettingsXml, type PhoneSettings } from './document';
import { USUAL_POLICY } from './policy';

const ada = personOf(
  'ada',
  1,
  { otherwise: ringing([{ endpoint: 'ada-desk' }, { endpoint: 'ada-mobile' }]) },
  {
    name: 'Ada Marlowe',
    endpoints: [{ id: 'ada-desk', label: 'Desk phone', kind: 'desk' }, mobileOf('ada', 1)],
  },
);
const ben = personOf('ben', 2, {}, { name: 'Ben Teal' });
const known: Device = {
  id: 'yard',
  name: 'Yard',
  model: 'gannet-20',
  macAddress: '021A2B3C4D01',
  endpoint: 'ben-desk',
};
const estate: Estate = smallEstate([ada, ben], {
  devices: [known],
  groups: [crewOf({ members: [{ person: 'ada' }, { person: 'ben' }] })],
});

describe('a list of phones', () => {
  const read = (text: string, of = estate) => {
    const list = readPhoneList(text, of);
    if (!list.ok) throw new Error(list.faults[0]?.message);
    return list.rows;
  };

  test('headings, addresses and models in any usual form; people by extension or name', () => {
    const [first, second] = read(
      'MAC;Phone Model;Ext;Where\n02-1a-2b-3c-4d-02;Gannet 60;4101;Bridge\n021A.2B3C.4D01;gannet20;ben teal;Yard\n',
    );
    expect(first).toMatchObject({
      line: 2,
      action: 'add',
      whose: 'Ada Marlowe',
      device: { model: 'gannet-60', macAddress: '021A2B3C4D02', endpoint: 'ada-desk', name: 'Bridge' },
    });
    expect(second).toMatchObject({ line: 3, action: 'same', device: { id: 'yard' } });
  });

  test('each fault is told with its field, and rows that are right are taken all the same', () => {
    const rows = read(
      [
        'hardware address,model,person',
        '02:1A:2B:3C:4D:0Z,Gannet 20,4101',
        '02:1A:2B:3C:4D:03,Heron,4101',
        '02:1A:2B:3C:4D:04,Gannet 20,nobody',
        '02:1A:2B:3C:4D:05,Gannet 20,4101',
        '02:1A:2B:3C:4D:05,Gannet 20,4101',
        '02:1A:2B:3C:4D:06,Gannet 20,4101',
      ].join('\n'),
    );
    expect(
      rows.map((row) => (row.action === 'refuse' ? row.faults.map(({ field }) => field).join() : row.action)),
    ).toEqual(['address', 'model', 'person', 'add', 'address', 'person']);
    expect(rows[5]).toMatchObject({
      faults: [{ message: 'the desk phones of Ada Marlowe stand on other lines already' }],
    });
  });

  test('another phone for somebody comes in the place of the one they have', () => {
    expect(read('mac,model,ext\n02:1A:2B:3C:4D:09,Gannet 60,4102\n')).toMatchObject([
      { action: 'add', device: { endpoint: 'ben-desk' }, replaces: { id: 'yard' } },
    ]);
  });

  test('a shared desk among somebody’s phones is no place for a phone of their own', () => {
    const line = 'mac,model,ext\n02:1A:2B:3C:4D:09,Gannet 60,4102\n';
    const withShared = (kept: (each: Endpoint) => boolean) => ({
      ...estate,
      people: estate.people.map((each) => ({
        ...each,
        endpoints: [
          { id: `${each.id}-shared`, label: 'Shared desk', kind: 'hot-desk' as const },
          ...each.endpoints.filter(kept),
        ],
      })),
    });
    expect(
      read(
        line,
        withShared(() => true),
      ),
    ).toEqual(read(line));
    expect(
      read(
        line,
        withShared(() => false),
      ),
    ).toMatchObject([
      { action: 'refuse', faults: [{ field: 'person', message: 'Ben Teal has no desk phone' }] },
    ]);
  });

  test('a list without the headings it needs is refused as a whole', () => {
    expect(readPhoneList('a,b\n1,2\n', estate)).toMatchObject({ ok: false, faults: [{ line: 1 }] });
  });
});

describe('how far a phone has come', () => {
  const run = (steps: readonly Step[], from: Progress = NOT_BEGUN, atMs = 1000) =>
    steps.reduce((before, step) => afterStep(before, step, atMs), from);

  test('from waiting to registered, by a restart', () => {
    const fetched = run([
      { kind: 'asked', firmware: '3.4.0' },
      { kind: 'fetched', firmware: '3.4.0', serial: 'a', restarts: true },
    ]);
    expect(fetched).toMatchObject({ state: 'restarting', firmware: '3.4.0', serial: 'a', fetchedMs: 1000 });
    expect(run([{ kind: 'restarted' }], fetched).state).toBe('fetched');
    expect(run([{ kind: 'restarted' }, { kind: 'registered' }], fetched)).toMatchObject({
      state: 'registered',
      registeredMs: 1000,
    });
    // Somebody who only registers has fetched nothing.
    expect(run([{ kind: 'registered' }]).state).toBe('waiting');
  });

  test('wrong codes lock it for a while, a right one in between starts the count anew', () => {
    const wrong: Step = { kind: 'wrong', why: 'The code is wrong' };
    const four = run([wrong, wrong, wrong, wrong]);
    expect(four).toMatchObject({ state: 'asked', tries: 4, why: 'The code is wrong' });
    const five = run([wrong], four);
    const until = 1000 + 15 * 60_000;
    expect([four, five].map((each) => lockedUntil(each, USUAL_POLICY, 1000))).toEqual([null, until]);
    expect(lockedUntil(five, USUAL_POLICY, until)).toBeNull();
    // Whoever guesses has not shown to be the phone: one that has its settings stays as far as it has come.
    const fetched = run([{ kind: 'fetched', firmware: null, serial: 's', restarts: false }]);
    const guessed = run([wrong, wrong, wrong, wrong, wrong, wrong], fetched);
    expect(guessed).toMatchObject({ state: 'fetched', why: null });
    expect(lockedUntil(guessed, USUAL_POLICY, 1000)).toBeNull();
    expect(run([{ kind: 'fetched', firmware: null, serial: 's', restarts: false }], four).tries).toBe(0);
    expect(run([{ kind: 'unlocked' }], five)).toMatchObject({
      state: 'waiting',
      tries: 0,
    });
  });

  test('old firmware: told what to load, loading, then asked again and fetched', () => {
    const old = run([{ kind: 'too-old', firmware: '3.1', least: '3.4.0', load: '3.5.0' }]);
    expect(old.why).toContain('it is told to load 3.5.0');
    expect(
      nextStep(run([{ kind: 'too-old', firmware: '3.1', least: '3.4.0', load: null }]), USUAL_POLICY),
    ).toBe('Add the firmware file that it needs.');
    expect(
      run(
        [
          { kind: 'loading', version: '3.5.0' },
          { kind: 'fetched', firmware: '3.5.0', serial: 's', restarts: false },
        ],
        old,
      ),
    ).toMatchObject({ state: 'fetched', firmware: '3.5.0', why: null });
  });
});

const hash = (text: string) => `${text.length}`.padStart(64, '0');
const of = (more: Partial<SettingsOf> = {}): SettingsOf => ({
  device: { ...known, endpoint: 'ada-desk' },
  model: modelOf('gannet-20')!,
  person: ada,
  desk: null,
  account: { user: 'ada-desk', password: 'a <long> & "random" one' },
  system: { realm: 'hostler', server: '127.0.0.1', port: 5060, transport: 'udp' },
  estate: {
    people: estate.people,
    groups: estate.groups,
    dialling: { ...estate.dialling, codes: [{ code: '*21', does: 'Twinning', acts: 'twinning' }] },
  },
  firmware: '3.4.0',
  image: null,
  again: { token: 't'.repeat(40), everyS: 86_400 },
  before: null,
  ...more,
});

describe('the settings of a phone', () => {
  const keys: readonly PhoneKey[] = [
    { at: 1, use: 'line', extension: '4101' },
    { at: 2, use: 'watch', person: 'ben' },
    { at: 3, use: 'twinning' },
    { at: 4, use: 'call', number: '+12505550100', label: 'Harbour' },
    { at: 99, use: 'call', number: '1' },
  ];

  test('keys are what the phone dials and watches; those it has not are left out', () => {
    const { keys: laid } = settingsFor(of({ device: { ...of().device, keys } }), hash);
    expect(laid).toEqual([
      { at: 1, use: 'line', label: '4101', target: '1' },
      { at: 2, use: 'watch', label: 'Ben', target: 'sip:4102@127.0.0.1:5060' },
      { at: 3, use: 'twinning', label: 'Twinning', target: 'sip:*21@127.0.0.1:5060' },
      { at: 4, use: 'call', label: 'Harbour', target: '+12505550100' },
    ]);
  });

  test('old or unsaid firmware gets no secret, only what to load', () => {
    const image = { version: '3.5.0', path: '/f', bytes: 10, sha256: 'a'.repeat(64) };
    for (const firmware of ['3.3.9', null]) {
      const settings = settingsFor(of({ firmware, image }), hash);
      expect(JSON.stringify(settings)).not.toContain('random');
      expect(settings).toMatchObject({ accounts: [], keys: [], firmware: { least: '3.4.0', load: image } });
      expect(settings.again).toBeUndefined();
    }
    expect(settingsFor(of({ image }), hash).firmware.load).toBeUndefined();
  });

  test('the serial changes with any setting; a restart is asked for only where the model needs it', () => {
    const before = settingsFor(of(), hash);
    const device = { ...of().device, keys };
    const after = settingsFor(of({ device, before }), (text) => `${text}`);
    expect(partsChanged(before, after)).toEqual(['keys']);
    expect(settingsFor(of({ device, before }), hash).restart).toBe(false);
    expect(settingsFor(of({ account: { user: 'ada-desk', password: 'other' }, before }), hash).restart).toBe(
      true,
    );
    const cordless = modelOf('petrel-d')!;
    expect(
      settingsFor(
        of({ model: cordless, firmware: '1.18', device: { ...device, keys: keys.slice(0, 1) }, before }),
        hash,
      ).restart,
    ).toBe(true);
  });

  test('JSON and XML are read as they were written, whatever is in them', () => {
    const text = fc
      .string({ minLength: 1, maxLength: 20, unit: fc.constantFrom(...'aZ09 <>&"\'é;/') })
      .filter((each) => each.trim() !== '');
    const settings: fc.Arbitrary<PhoneSettings> = fc
      .record({
        keys: fc.array(
          fc.record({
            at: fc.integer({ min: 1, max: 24 }),
            use: fc.constantFrom(...KEY_USES),
            label: text,
            target: text,
          }),
          { maxLength: 3 },
        ),
        name: text,
        password: text,
        withNat: fc.boolean(),
      })
      .map(({ keys: laid, name, password, withNat }) => ({
        ...settingsFor(of({ account: { user: 'u', password } }), hash),
        keys: laid,
        name,
        ...(withNat ? { nat: 'stun' as const } : {}),
      }));
    fc.assert(
      fc.property(settings, (given) => {
        expect(readSettings(writeSettingsJson(given))).toEqual({ ok: true, settings: given });
        expect(readSettings(writeSettingsXml(given))).toEqual({ ok: true, settings: given });
      }),
      { numRuns: 60 },
    );
  });

  test.each([
    ['{', 'is not JSON'],
    ['<phone', 'is not XML'],
    ['<!DOCTYPE phone [<!ENTITY a "b">]><phone/>', 'has a document type or entities, which are not read'],
    ['<phone format="other/1"/>', 'must be one of hostler-phone/1'],
  ])('%s is refused', (text, why) => {
    expect(readSettings(text)).toMatchObject({
      ok: false,
      faults: expect.arrayContaining([expect.objectContaining({ message: why })]),
    });
  });
});

const CODES = [
  { code: '*21', does: 'Twinning', acts: 'twinning' },
  { code: '*22', does: 'Sign on', acts: 'sign-on' },
] as const;

describe('keys', () => {
  const desk = { person: ada, endpoint: ada.endpoints[0] };
  test('a lay-out to begin with has the lines, the twinning switch and colleagues, as far as there are keys', () => {
    expect(usualKeys({ keys: 8 }, desk, estate)).toEqual([
      { at: 1, use: 'line', extension: ada.lines[0]!.extension },
      { at: 2, use: 'twinning' },
      { at: 3, use: 'watch', person: 'ben' },
    ]);
    expect(usualKeys({ keys: 1 }, desk, estate)).toHaveLength(1);
    const hotDesk = { person: undefined, endpoint: { id: 'd', label: 'Desk', kind: 'hot-desk' as const } };
    expect(usualKeys({ keys: 8 }, hotDesk, estate)).toEqual([{ at: 1, use: 'sign-on' }]);
    for (const model of MODELS)
      expect(keyFaults({ keys: usualKeys(model, desk, estate) }, model, desk, CODES)).toEqual([]);
  });

  test('keys that would do nothing are told', () => {
    const says = (...keys: PhoneKey[]) =>
      keyFaults({ keys }, modelOf('gannet-20'), desk, CODES).map((fault) => fault.says);
    expect(says({ at: 9, use: 'twinning' })).toEqual(['A Gannet 20 has 8 keys only.']);
    expect(says({ at: 1, use: 'line', extension: '9999' })).toEqual(['9999 is none of Ada Marlowe’s lines.']);
    expect(says({ at: 1, use: 'watch', person: 'ada' })).toHaveLength(1);
    expect(says({ at: 1, use: 'sign-on' })).toHaveLength(1);
    expect(keyFaults({ keys: [{ at: 1, use: 'twinning' }] }, modelOf('gannet-20'), desk)).toHaveLength(1);
  });
});
