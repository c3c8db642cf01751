import worked from '../golden/networks.json';
import {
  NETWORK_FORMAT,
  networkAround,
  NOT_TRIED_WORDS,
  readNetwork,
  SILENCES,
  topologyOf,
  triedBeside,
  triedWords,
  verdictsOf,
  whyNotTried,
  type NetworkFile,
  type PathVerdicts,
  type TriedWay,
} from '.';

const file = (phone: object = {}, more: Partial<NetworkFile> = {}): NetworkFile =>
  ({
    format: NETWORK_FORMAT,
    name: 'A home',
    boxes: [{ id: 'home', name: 'Home', in: 'internet', inside: '192.168.1.1', outside: '203.0.113.7' }],
    servers: [
      { id: 'pbx', name: 'System', kind: 'system', in: 'internet', address: '198.51.100.10' },
      { id: 'turn', name: 'Relay', kind: 'turn', in: 'internet', address: '198.51.100.30' },
    ],
    phones: [
      { id: 'ann', name: 'Ann', in: 'home', address: '192.168.1.20', ...phone },
      { id: 'box', name: 'Branch', in: 'home', address: '192.168.1.21' },
      { id: 'bob', name: 'Bob', in: 'home', address: '192.168.1.22' },
    ],
    ...more,
  }) as NetworkFile;
function why(given: NetworkFile, id = 'ann') {
  const read = readNetwork(given);
  if (!read.ok) throw new Error(JSON.stringify(read.faults));
  return whyNotTried(read.network, id);
}

test('what can be tried is; of the rest it is said why not', () => {
  for (const method of ['direct', 'stun', 'ice', 'turn']) expect(why(file({ method }))).toBeNull();
  expect(why(file(), 'cleo')).toBe('no-phone');
  expect(why(file({ method: 'border-controller' }))).toBe('no-server');
  expect(why(file({ method: 'branch-relay', relay: 'box' }))).toBe('branch-relay');
  expect(why(file({ method: 'vpn' }))).toBe('tunnel');
  const [pbx, turn] = file().servers;
  const inside = { ...pbx!, in: 'home', address: '192.168.1.5' };
  expect(why(file({}, { servers: [inside, turn!] }))).toBe('near');
  const office = {
    id: 'office',
    name: 'Office',
    in: 'internet',
    inside: '10.0.0.1',
    outside: '203.0.113.50',
  };
  const behind = { ...pbx!, in: 'office', address: '10.0.0.5', public: '203.0.113.50' };
  const around = { boxes: [...file().boxes, office], servers: [behind, turn!] } as Partial<NetworkFile>;
  expect(why(file({ method: 'turn' }, around))).toBe('relay-inside');
  expect(why(file({ method: 'stun' }, around))).toBeNull();
  for (const words of Object.values(NOT_TRIED_WORDS)) expect(words).toMatch(/\.$/);
});

test('around one phone stand its boxes and servers, and the branch relay that it names', () => {
  const of = { file: file({ relay: 'box' }) };
  const ids = (id: string) => networkAround(of, id).phones.map((phone) => phone.id);
  expect([ids('ann'), ids('bob')]).toEqual([['ann', 'box'], ['bob']]);
  expect(networkAround(of, 'ann')).toMatchObject({ boxes: of.file.boxes, servers: of.file.servers });
});

/** A try that went as the verdicts say. */
const asComputed = (verdicts: PathVerdicts): TriedWay => {
  const answer = ({ verdict }: { verdict: string }) => ({ works: verdict === 'works', lost: null });
  const { registers, ringsAfter, soundOut, soundIn, staysUp } = verdicts;
  return {
    registers: answer(registers),
    ringsAfter: Object.fromEntries(
      SILENCES.map((each) => [String(each), answer(ringsAfter[`${each}`])]),
    ) as TriedWay['ringsAfter'],
    soundOut: answer(soundOut),
    soundIn: answer(soundIn),
    staysUp: answer(staysUp),
  };
};

test('an answer that went otherwise than computed is found, whichever it is', () => {
  const given = worked.find(({ name }) => name === 'Keep-alive too long')!;
  const read = readNetwork(given.network);
  if (!read.ok) throw new Error('no network');
  const verdicts = verdictsOf(topologyOf(read.network), read.network.phones[0]!);
  const others = (tried: TriedWay) =>
    triedBeside(verdicts, tried)
      .filter((each) => each.computed !== each.tried.works)
      .map(triedWords);
  const same = asComputed(verdicts);
  expect(others(same)).toEqual([]);
  const wrong = (key: 'registers' | 'soundOut' | 'soundIn' | 'staysUp') =>
    others({ ...same, [key]: { works: !same[key].works, lost: null } });
  expect([wrong('registers'), wrong('soundOut'), wrong('soundIn'), wrong('staysUp')]).toEqual([
    ['Registers: no'],
    ['Others hear the phone: no'],
    ['The phone hears others: no'],
    ['Calls stay up: no'],
  ]);
  const late = same.ringsAfter['600'];
  expect(
    others({ ...same, ringsAfter: { ...same.ringsAfter, '600': { works: !late?.works, lost: null } } }),
  ).toEqual([`Rings after 600 s of silence: ${late?.works ? 'no' : 'yes'}`]);
  // What was not tried is no answer.
  const most = { ...same, ringsAfter: { ...same.ringsAfter, '1700': null } };
  expect(triedBeside(verdicts, most)).toHaveLength(9);
});
