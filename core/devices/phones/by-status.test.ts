import { referenceFaults } from '../../estate';
import { mobileOf, personOf, ringing, smallEstate } from '../../tests/small';
import { accountUri, handoverSteps } from './handover';
import { phonesByStatus, placeFrom, sayPlacing } from './by-status';

const AT = '2026-11-25T10:00:00-07:00';
const ada = personOf(
  'ada',
  1,
  {
    rules: [
      {
        id: 'away',
        name: 'Away',
        when: { status: ['away'] },
        stages: [{ ring: [{ endpoint: 'ada-app', delayMs: 3000 }], forMs: 20_000 }],
        ending: { kind: 'mailbox' },
      },
    ],
    otherwise: ringing([{ endpoint: 'ada-desk' }, { endpoint: 'ada-mobile' }]),
  },
  {
    endpoints: [
      { id: 'ada-desk', label: 'Desk phone', kind: 'desk' },
      { id: 'ada-app', label: 'App', kind: 'mobile-app' },
      mobileOf('ada', 1),
    ],
  },
);
const estate = smallEstate([ada], {
  statuses: [
    { id: 'on', name: 'At work' },
    { id: 'away', name: 'Away' },
  ],
});
const at = (person = ada) =>
  Object.fromEntries(phonesByStatus(estate, person, AT).map((each) => [each.status, each]));

test('a phone rings by status as a call is run, each with when it begins', () => {
  const { on, away } = at();
  expect(on!.rings.map(({ endpoint }) => endpoint)).toEqual(['ada-desk', 'ada-mobile']);
  expect(on!.rings[0]!.afterMs).toBeLessThan(on!.rings[1]!.afterMs);
  expect(away!.rings).toEqual([{ endpoint: 'ada-app', afterMs: 3000 + 1200 }]);
});

test('calls are placed from the phone that rings, if it registers, until one is chosen; a mobile of the public network never', () => {
  expect([at().on, at().away].map((each) => [each!.callsFrom, each!.isChosen])).toEqual([
    ['ada-desk', false],
    ['ada-app', false],
  ]);
  const chosen = placeFrom(ada, 'on', 'ada-app');
  expect(at(chosen).on).toMatchObject({ callsFrom: 'ada-app', isChosen: true });
  expect(placeFrom(chosen, 'on', 'ada-desk').callsFrom).toEqual([{ status: 'on', endpoint: 'ada-desk' }]);
  expect(placeFrom(chosen, 'on', null)).toEqual(ada);
  const onlyMobile = { ...ada, endpoints: [mobileOf('ada', 1)] };
  expect(at(onlyMobile).on!.callsFrom).toBeNull();
});

test('each phone’s sheet says when calls are placed from it, and from where else', () => {
  const says = (person: typeof ada, endpoint: string) =>
    sayPlacing(person, phonesByStatus(estate, person, AT), endpoint);
  const label = (id: string) => ada.endpoints.find((each) => each.id === id)!.label;
  expect(says(ada, 'ada-app')).toBe(
    `Place your calls from here while your status is “Away”, else from ${label('ada-desk')}.`,
  );
  const chosen = placeFrom(ada, 'on', 'ada-app');
  expect(says(chosen, 'ada-app')).toBe('Place your calls from here.');
  expect(says(chosen, 'ada-desk')).toBe(`Place your calls from ${label('ada-app')}, not from here.`);
  const placing = says(ada, 'ada-app');
  const account = { user: 'a', password: null, server: 's', port: 1, transport: 'TLS' as const };
  expect(handoverSteps('mobile-app', account, '4101', {}, placing)).toContainEqual({ says: placing });
});

test('a choice of somebody else’s phone or a status that is not there is a fault', () => {
  const bad = { ...ada, callsFrom: [{ status: 'gone', endpoint: 'other' }] };
  expect(referenceFaults({ ...estate, people: [bad] }).map(({ path }) => path)).toEqual([
    'people[0].callsFrom[0].status',
    'people[0].callsFrom[0].endpoint',
  ]);
});

test('the hand-over sheet has what is known of headset and camera, and leaves out what is not', () => {
  const account = {
    user: 'ada',
    password: null,
    server: 'sip.example',
    port: 5061,
    transport: 'TLS' as const,
  };
  const steps = handoverSteps('desktop-app', account, '4101', { headset: 'Left drawer, USB', camera: '  ' });
  expect(steps.filter(({ says }) => says.startsWith('Your '))).toEqual([
    { says: 'Your headset', value: 'Left drawer, USB' },
  ]);
  expect(accountUri(account)).toBe('sip:ada@sip.example:5061;transport=tls');
});
