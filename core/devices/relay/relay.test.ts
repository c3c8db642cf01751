import type { Device, Estate, Person, Site } from '../../estate';
import { emptyEstate } from '../../editing';
import { compileEstate } from '../../calls/engine';
import { movedBack, movedOver, phonesByRelay, relaySteps, whenRelayStops } from '.';

const SITE: Site = {
  id: 'pier',
  name: 'The pier',
  kind: 'branch',
  stableAddress: true,
  relay: { device: 'relay', alwaysOn: true },
};
const device = (id: string, more: Partial<Device> = {}): Device => ({
  id,
  name: id,
  model: 'gannet-20',
  site: 'pier',
  endpoint: `${id}-phone`,
  ...more,
});
/** A model that relays for a dozen. */
const RELAY = device('relay', { model: 'gannet-60', firmware: '9.9' });
const at = '2026-11-24T10:00:00-08:00';

function person(
  id: string,
  endpoints: Person['endpoints'],
  rings: readonly string[],
  ending = 'mailbox',
): Person {
  return {
    id,
    name: id,
    status: 'on',
    maxCalls: 2,
    permission: emptyEstate().permissions[0]?.id ?? 'all',
    lines: [{ id: `${id}-1`, extension: id === 'ada' ? '4101' : '4102', numbers: [] }],
    endpoints,
    plan: {
      rules: [],
      otherwise: {
        stages: [{ ring: rings.map((endpoint) => ({ endpoint })), forMs: 20_000 }],
        ending: ending === 'mailbox' ? { kind: 'mailbox' } : { kind: 'hang-up', message: 'closed' },
      },
    },
  };
}
const desk = (id: string) => ({ id, label: 'Desk', kind: 'desk' as const });

describe('what setting one up takes', () => {
  const holds = (devices: readonly Device[], site: Site = SITE) =>
    Object.fromEntries(relaySteps({ devices }, site).map(({ id, holds: is }) => [id, is]));
  const done = { model: true, room: true, address: true, on: true, firmware: true, moved: true };
  const moved = [1, 2].map((n) => device(`p${n}`, { natMethod: 'branch-relay' }));

  test('all of it done', () => expect(holds([RELAY, ...moved])).toEqual(done));
  test.each<[string, readonly Device[], Partial<Site>, object]>([
    [
      'a model that cannot',
      [{ ...RELAY, model: 'gannet-20', firmware: '9.9' }, ...moved],
      {},
      { model: false, room: false },
    ],
    ['an address that changes', [RELAY, ...moved], { stableAddress: false }, { address: false }],
    [
      'switched off at night',
      [RELAY, ...moved],
      { relay: { device: 'relay', alwaysOn: false } },
      { on: false },
    ],
    ['firmware that nobody knows', [{ ...RELAY, firmware: undefined }, ...moved], {}, { firmware: null }],
    ['old firmware', [{ ...RELAY, firmware: '0.1' }, ...moved], {}, { firmware: false }],
    ['phones that were not moved', [RELAY, ...moved, device('p3')], {}, { moved: false }],
    [
      'more phones than it serves',
      [RELAY, ...Array.from({ length: 13 }, (_each, n) => device(`q${n}`, { natMethod: 'branch-relay' }))],
      {},
      { room: false },
    ],
    ['nobody on it yet', [RELAY], {}, { moved: false }],
  ])('%s', (_name, devices, site, more) => {
    expect(holds(devices as Device[], { ...SITE, ...site })).toEqual({ ...done, ...more });
  });
  test('a site without one has no steps', () => {
    const { relay: _relay, ...bare } = SITE;
    expect(relaySteps({ devices: [RELAY] }, bare)).toEqual([]);
  });
});

test('phones are moved over and back, each as it was; those whose model cannot stay', () => {
  const cannot = device('old', { model: 'unheard-of' });
  const devices = [RELAY, device('p1'), device('p2', { natMethod: 'stun' }), cannot];
  const over = movedOver({ devices }, SITE);
  expect(over.map(({ after }) => [after.id, after.natMethod])).toEqual([
    ['p1', 'branch-relay'],
    ['p2', 'branch-relay'],
  ]);
  const then = [RELAY, ...over.map(({ after }) => after), cannot];
  expect(phonesByRelay({ devices: then }, SITE).by).toHaveLength(2);
  expect(movedBack({ devices: then }, SITE).map(({ after }) => after)).toEqual([device('p1'), device('p2')]);
});

test('when it stops: who is lost, who still has another phone, and nobody else', () => {
  const devices = [
    RELAY,
    device('ada', { natMethod: 'branch-relay' }),
    device('ben', { natMethod: 'branch-relay' }),
  ];
  const estate: Estate = {
    ...emptyEstate(),
    sites: [SITE],
    devices,
    people: [
      person('ada', [desk('ada-phone')], ['ada-phone'], 'hang-up'),
      person('ben', [desk('ben-phone'), desk('ben-other')], ['ben-phone', 'ben-other']),
      { ...person('cleo', [desk('cleo-phone')], ['cleo-phone']), lines: [] },
    ],
  };
  const losses = whenRelayStops(compileEstate(estate), SITE, Date.parse(at));
  expect(losses.map(({ person: { id }, isSilent }) => [id, isSilent])).toEqual([
    ['ada', true],
    ['ben', false],
  ]);
  expect(losses[1]?.outcome).toMatchObject({ kind: 'answered', endpoint: 'ben-other' });
  const { relay: _relay, ...bare } = SITE;
  expect(whenRelayStops(compileEstate(estate), bare, Date.parse(at))).toEqual([]);
});
