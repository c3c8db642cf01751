import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { readDrills } from '../calls/drills';
import { workedEstate } from '../tests/worked';
import { readEstate, readKept, withNewNames } from '.';

const text = readFileSync(join(__dirname, '../golden/estate.json'), 'utf8');
const file = () => JSON.parse(text) as { people: { plan: unknown }[]; groups: { mode: string }[] };

test('the worked estate has names of before, and is read with those of today', () => {
  expect(text).toContain('"onlyWhile"');
  const read = readEstate(file());
  expect(read).toEqual({ ok: true, estate: workedEstate() });
  const now = JSON.stringify(read);
  expect(now).toContain('"whileRegistered"');
  for (const gone of ['onlyWhile', 'onlyUnless', '"together"', '"in-order"', '"rotate"'])
    expect(now).not.toContain(gone);
  expect(workedEstate().groups.map(({ mode }) => mode)).toEqual(
    file().groups.map(
      ({ mode }) => ({ together: 'simultaneous', 'in-order': 'linear', rotate: 'circular' })[mode] ?? mode,
    ),
  );
});

test.each([
  [{ hardwareAddress: '0' }, { macAddress: '0' }],
  [{ letIn: true }, { remoteRegistration: true }],
  [{ sipHelper: 'none' }, { sipAlg: 'none' }],
  // A box of a network keeps the name that network files have.
  [
    { sipHelper: 'none', network: { boxes: [{ inside: '192.168.1.1', sipHelper: 'breaks-sdp' }] } },
    { sipAlg: 'none', network: { boxes: [{ inside: '192.168.1.1', sipHelper: 'breaks-sdp' }] } },
  ],
  [{ places: [{ status: 's', endpoint: 'e' }] }, { callsFrom: [{ status: 's', endpoint: 'e' }] }],
  [{ places: 'a wish' }, { places: 'a wish' }],
  [
    { settings: { guard: { prefixes: ['+53'], ownTargets: 3 } } },
    { settings: { fraudProtection: { prefixes: ['+53'], ownTargets: 3 } } },
  ],
  [{ guard: 'somebody' }, { guard: 'somebody' }],
  [{ kind: 'no-foreign-mailbox' }, { kind: 'no-carrier-voicemail' }],
  [{ mode: 'rotate' }, { mode: 'circular' }],
  [
    { name: 'rotate', does: 'together' },
    { name: 'rotate', does: 'together' },
  ],
  [
    { onlyWhile: 'a', whileRegistered: 'b' },
    { onlyWhile: 'a', whileRegistered: 'b' },
  ],
])('%j is read as %j', (before, now) => {
  expect(withNewNames([before])).toEqual([now]);
  expect(readKept(JSON.stringify(before))).toEqual(now);
});

test('what has no name of before comes back as it is', () => {
  const estate = workedEstate();
  expect(withNewNames(estate)).toBe(estate);
});

test('faults are told by the names that stand in the file', () => {
  const spoilt = JSON.parse(text.replace(/("onlyWhile": )"[^"]+"/, '$1"nobody"')) as object;
  const read = readEstate(spoilt);
  expect(read.ok ? [] : read.faults).toMatchObject([
    {
      path: expect.stringMatching(/ring\[\d+\]\.onlyWhile$/) as string,
      message: 'there is no endpoint "nobody"',
    },
  ]);
  const both = JSON.parse(text.replace(/"onlyWhile": ("[^"]+")/, '$&, "whileRegistered": $1')) as object;
  expect(readEstate(both)).toMatchObject({
    ok: false,
    faults: [{ message: expect.stringContaining('is not a known field here') as string }],
  });
});

test('nothing is so deep that it ends the program', () => {
  let deep: unknown = { onlyWhile: 'x' };
  for (let i = 0; i < 50_000; i += 1) deep = [deep];
  expect(readEstate(deep).ok).toBe(false);
});

test('a drill of before expects what it expected', () => {
  const drill = {
    id: 'd',
    name: 'D',
    standsFor: { person: 'ines' },
    call: { from: '+16045550199', at: '2026-11-24T14:20:00-07:00' },
    expect: { kind: 'foreign-mailbox' },
  };
  expect(readDrills({ format: 'hostler-drills/1', drills: [drill] })).toMatchObject({
    ok: true,
    drills: [{ expect: { kind: 'carrier-voicemail' } }],
  });
});
