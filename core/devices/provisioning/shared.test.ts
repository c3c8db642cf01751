import fc from 'fast-check';
import type { Desk, Device, PhoneKey } from '../../estate';
import { modelOf, MODELS } from '../phones';
import { crewOf, mobileOf, personOf, ringing, smallEstate } from '../../tests/small';
import { languageFor, languageName } from './language';
import { readSettings, writeSettingsJson, writeSettingsXml, type PhoneSettings } from './document';
import { readPhoneList } from './list';
import { policyFor, USUAL_POLICY } from './policy';
import { settingsFor, type SettingsOf } from './settings';
import { sharedKeys, startsUntil } from './shared';

const hotDesk = { id: 'ada-hot', label: 'Shared desk', kind: 'hot-desk' } as const;
const ada = personOf(
  'ada',
  1,
  { otherwise: ringing([{ endpoint: 'ada-hot' }, { endpoint: 'ada-mobile' }]) },
  { name: 'Ada Marlowe', language: 'fr-CA', endpoints: [hotDesk, mobileOf('ada', 1)] },
);
const ben = personOf('ben', 2, {}, { name: 'Ben Teal' });
const device: Device = { id: 'hall', name: 'Hall phone', model: 'gannet-20', macAddress: '021A2B3C4D11' };
const desk: Desk = { id: 'hall-1', name: 'Hall desk 1', device: 'hall' };
const small = smallEstate([ada, ben], {
  devices: [device],
  desks: [desk],
  groups: [crewOf({ members: [{ person: 'ada' }, { person: 'ben' }] })],
});
const estate = {
  ...small,
  dialling: {
    ...small.dialling,
    codes: [
      { code: '*70', does: 'Sign on', acts: 'sign-on' as const },
      { code: '*21', does: 'Twinning', acts: 'twinning' as const },
    ],
  },
};
const model = modelOf('gannet-20')!;
const hash = (text: string) =>
  [...text]
    .reduce((sum, sign) => (sum * 31 + sign.codePointAt(0)!) % 1e9, 7)
    .toString(16)
    .padEnd(64, '0');
const given = (more: Partial<SettingsOf> = {}): PhoneSettings =>
  settingsFor(
    {
      device,
      model,
      person: null,
      desk,
      account: { user: 'desk-hall-1', password: 'a password' },
      system: { realm: 'hostler', server: '127.0.0.1', port: 5060, transport: 'udp' },
      estate,
      firmware: '3.4.0',
      image: null,
      again: { token: 't'.repeat(40), everyS: 86_400 },
      before: null,
      ...more,
    },
    hash,
  );

describe('the phone of a shared desk', () => {
  test('with nobody there it shows the desk and how one signs on, and has nothing of anybody', () => {
    const bare = given();
    expect(bare).toMatchObject({
      name: 'Hall desk 1',
      display: 'Hall desk 1: free. Sign on: *70',
      accounts: [{ label: 'Hall desk 1', user: 'desk-hall-1' }],
      keys: [{ at: 1, use: 'sign-on', label: 'Sign on' }],
    });
    expect(bare.language).toBeUndefined();
  });

  test('whoever signs on has their lines, twinning, colleagues and language there, by the account of the desk', () => {
    const hers = given({ person: ada });
    expect(hers).toMatchObject({
      display: 'Hall desk 1: Ada Marlowe',
      language: 'fr',
      accounts: [{ label: '4101 Ada Marlowe', user: 'desk-hall-1', password: 'a password' }],
    });
    expect(hers.keys.map(({ at, use, label }) => [at, use, label])).toEqual([
      [1, 'sign-on', 'Sign off'],
      [2, 'line', '4101'],
      [3, 'twinning', 'Twinning'],
      [4, 'watch', 'Ben'],
    ]);
  });

  test('nothing of whoever was there is left once they sign off: it is as it was before they came', () => {
    const before = given();
    const after = given({ before: given({ person: ada, before }) });
    expect({ ...after, restart: before.restart }).toEqual(before);
    expect(JSON.stringify(after)).not.toMatch(/Ada|4101|Ben|"fr"/);
    // The account stays, so that it is there for the next one; the model starts again for another label.
    expect(after.restart).toBe(true);
    const noRestart = modelOf('gannet-60')!;
    const own = (person: SettingsOf['person'], last: PhoneSettings | null) =>
      given({ model: noRestart, firmware: '3.6.2', person, before: last });
    expect(own(ada, own(null, null)).restart).toBe(false);
  });

  test('where all keys are laid out for watching, the last of them is the one to sign off by', () => {
    const two = { ...modelOf('petrel-d')!, keys: 2 };
    const watching: readonly PhoneKey[] = [
      { at: 1, use: 'watch' },
      { at: 2, use: 'watch' },
    ];
    expect(sharedKeys({ keys: watching }, two, ada, estate)).toEqual([
      { at: 1, use: 'watch' },
      { at: 2, use: 'sign-on' },
    ]);
  });

  test('keys laid out for the desk stay where they stand; those of a person go around them, or not at all', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...MODELS),
        fc.uniqueArray(
          fc.record({
            at: fc.integer({ min: 1, max: 30 }),
            use: fc.constantFrom<PhoneKey['use']>('line', 'watch', 'call', 'twinning', 'sign-on'),
          }),
          { selector: ({ at }) => at, maxLength: 12 },
        ),
        fc.boolean(),
        (of, keys, isTaken) => {
          const laid = sharedKeys({ keys }, of, isTaken ? ada : null, estate);
          const places = laid.map(({ at }) => at);
          expect(new Set(places).size).toBe(places.length);
          expect(places.every((at) => at >= 1 && at <= of.keys)).toBe(true);
          const fixed = keys.filter(({ at, use }) => at <= of.keys && ['call', 'sign-on'].includes(use));
          for (const key of fixed) expect(laid).toContainEqual(key);
          // With nobody there no key is of anybody.
          if (!isTaken) expect(laid.every(({ use }) => use === 'call' || use === 'sign-on')).toBe(true);
          // Somebody can always sign on, if there is a key for it at all.
          if (fixed.length < of.keys) expect(laid.some(({ use }) => use === 'sign-on')).toBe(true);
        },
      ),
    );
  });

  test('its settings are read back as they were written, as JSON and as XML', () => {
    for (const settings of [given(), given({ person: ada })])
      for (const text of [writeSettingsJson(settings), writeSettingsXml(settings)])
        expect(readSettings(text)).toEqual({ ok: true, settings });
  });

  test('it is away while it starts again, if its model does', () => {
    const since = 1_000_000;
    expect(startsUntil(model, since, since)).toBe(since + model.restartS * 1000);
    expect(startsUntil(model, since, since + model.restartS * 1000)).toBeNull();
    expect(startsUntil(modelOf('gannet-60'), since, since)).toBeNull();
    expect(startsUntil(undefined, since, since)).toBeNull();
  });
});

test('a language is taken from the longest beginning of a tag that a model speaks', () => {
  expect(languageFor('pt-BR', ['en', 'pt', 'pt-BR'])).toBe('pt-BR');
  expect(languageFor('pt-BR-x-a', ['en', 'pt'])).toBe('pt');
  expect(languageFor('nb', ['en'])).toBeNull();
  expect(languageFor(undefined, ['en'])).toBeNull();
  expect([languageName('pt-BR'), languageName('not a tag')]).toEqual(['Brazilian Portuguese', 'not a tag']);
});

test('a shared desk has no PIN: where phones take a PIN, its phone takes a code', () => {
  const pins = { ...USUAL_POLICY, credential: 'pin' } as const;
  expect([policyFor(pins, true).credential, policyFor(pins, false).credential]).toEqual(['code', 'pin']);
  expect(policyFor({ ...pins, credential: 'certificate' }, true).credential).toBe('certificate');
});

describe('a shared desk in a list of phones', () => {
  const read = (rows: string) => {
    const list = readPhoneList(`mac,model,desk\n${rows}`, estate);
    if (!list.ok) throw new Error(list.faults[0]?.message);
    return list.rows;
  };

  test('is named like a person, and its phone stays the thing that it is, with another address or model', () => {
    expect(read('02:1A:2B:3C:4D:11,Gannet 20,hall desk 1\n')).toMatchObject([
      { action: 'same', whose: 'Hall desk 1', device: { id: 'hall' } },
    ]);
    expect(read('02:1A:2B:3C:4D:77,Gannet 60,Hall desk 1\n')).toMatchObject([
      {
        action: 'change',
        base: { id: 'hall' },
        device: { id: 'hall', macAddress: '021A2B3C4D77', model: 'gannet-60' },
      },
    ]);
  });

  test('one that stands twice, or has the address of another phone, is refused with the reason', () => {
    const twice = read('02:1A:2B:3C:4D:77,Gannet 20,Hall desk 1\n02:1A:2B:3C:4D:78,Gannet 20,Hall desk 1\n');
    expect(twice[1]).toMatchObject({ action: 'refuse', faults: [{ field: 'person' }] });
    const other = readPhoneList('mac,model,desk\n02:1A:2B:3C:4D:01,Gannet 20,Hall desk 1\n', {
      ...estate,
      devices: [device, { id: 'yard', name: 'Yard', model: 'gannet-20', macAddress: '021A2B3C4D01' }],
    });
    expect(other).toMatchObject({
      rows: [{ action: 'refuse', faults: [{ field: 'address', message: 'is that of Yard already' }] }],
    });
  });
});
