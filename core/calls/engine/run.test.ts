import type { Ending, Estate, Group, Person, Stage, Treatment } from '../../estate';
import { workedEstate } from '../../tests/worked';
import { compileEstate } from './compile';
import { runCall } from './run';
import type { Call, EndpointBehaviour, Trace, World } from './types';

const worked = workedEstate();
const AT = '2026-11-24T10:00:00-07:00';

interface Setting {
  readonly stages?: readonly Stage[];
  readonly ending?: Ending;
  readonly busy?: Ending;
  readonly groups?: readonly Group[];
  readonly settings?: Estate['settings'];
  readonly change?: (tomasz: Person) => Person;
}

/** A call to Tomasz (desk-like app, mobile, home) with one treatment for every call. */
function call(
  { stages = [], ending = { kind: 'mailbox' }, busy, groups, settings, change }: Setting,
  world: World = {},
  more: Partial<Call> = {},
): Trace {
  const otherwise: Treatment = { stages, ending, ...(busy ? { busy } : {}) };
  const estate: Estate = {
    ...worked,
    ...(settings ? { settings } : {}),
    groups: groups ?? worked.groups,
    people: worked.people.map((person) => {
      if (person.id !== 'tomasz') return person;
      const set = { ...person, plan: { rules: [], otherwise } };
      return change ? change(set) : set;
    }),
  };
  return runCall(compileEstate(estate), { from: '+16045550199', to: '4102', at: AT, world, ...more });
}

const ring = (forMs: number, ...endpoints: string[]): Stage => ({
  ring: endpoints.map((endpoint) => ({ endpoint })),
  forMs,
});
const mobileDoes = (behaviour: EndpointBehaviour): World => ({ endpoints: { 'tomasz-mobile': behaviour } });
const short = ({ outcome, legs }: Trace) =>
  [outcome.kind, outcome.atMs, ...legs.map((leg) => `${leg.end}@${leg.endMs}`)].join(' ');

describe('what a single phone does', () => {
  const oneMobile = { stages: [ring(30_000, 'tomasz-mobile')] };
  test.each<[string, EndpointBehaviour, string]>([
    ['ready, nobody there: the voicemail takes it', {}, 'carrier-voicemail 27200 connected@27200'],
    ['no voicemail', { mailboxAfterMs: null }, 'mailbox 30000 no-answer@30000'],
    ['rejected', { rejectAfterMs: 1000 }, 'mailbox 6200 rejected@6200'],
    [
      'answer and rejection at once: answered',
      { rejectAfterMs: 1000, answerAfterMs: 1000 },
      'answered 6200 connected@6200',
    ],
    ['off, with voicemail', { state: 'off' }, 'carrier-voicemail 1800 connected@1800'],
    ['off, without', { state: 'off', mailboxAfterMs: null }, 'mailbox 5200 unreachable@5200'],
    ['busy, with voicemail', { state: 'busy', offAnswerMs: 900 }, 'carrier-voicemail 900 connected@900'],
    ['busy, without', { state: 'busy', mailboxAfterMs: null }, 'mailbox 5200 busy@5200'],
    [
      'do not disturb: rings, and only the voicemail answers',
      { state: 'do-not-disturb', answerAfterMs: 5 },
      'carrier-voicemail 27200 connected@27200',
    ],
    ['answers by itself', { state: 'auto-answer' }, 'answered 5200 connected@5200'],
    [
      'asleep means nothing to a mobile',
      { state: 'asleep', answerAfterMs: 0 },
      'answered 5200 connected@5200',
    ],
    ['not registered', { state: 'unregistered' }, 'mailbox 0 unregistered@0'],
  ])('mobile: %s', (_name, behaviour, expected) => {
    expect(short(call(oneMobile, mobileDoes(behaviour)))).toBe(expected);
  });
  test.each<[string, EndpointBehaviour, string]>([
    ['off', { state: 'off' }, 'mailbox 0 unregistered@0'],
    ['busy', { state: 'busy' }, 'mailbox 1200 busy@1200'],
    ['do not disturb', { state: 'do-not-disturb' }, 'mailbox 1200 do-not-disturb@1200'],
    ['asleep, woken', { state: 'asleep', answerAfterMs: 100 }, 'answered 4900 connected@4900'],
    ['has no carrier', { mailboxAfterMs: 5 }, 'mailbox 9000 no-answer@9000'],
  ])('softphone: %s', (_name, behaviour, expected) => {
    expect(
      short(call({ stages: [ring(9000, 'tomasz-app')] }, { endpoints: { 'tomasz-app': behaviour } })),
    ).toBe(expected);
  });
  test('a softphone that cannot be woken is not registered', () => {
    const cannot = (p: Person) => ({
      ...p,
      endpoints: p.endpoints.map((e) => (e.kind === 'mobile-app' ? { ...e, wakes: false } : e)),
    });
    expect(
      short(
        call(
          { stages: [ring(9000, 'tomasz-app')], change: cannot },
          { endpoints: { 'tomasz-app': { state: 'asleep' } } },
        ),
      ),
    ).toBe('mailbox 0 unregistered@0');
  });
});

describe('guards and confirmation at their very edges', () => {
  const guarded = (more: object): Setting => ({
    stages: [{ ring: [{ endpoint: 'tomasz-mobile', ...more }], forMs: 30_000 }],
  });
  test('an answer exactly at the guard counts, one ms sooner does not', () => {
    expect(short(call(guarded({ acceptAfterMs: 1800 }), mobileDoes({ state: 'off' })))).toBe(
      'carrier-voicemail 1800 connected@1800',
    );
    expect(short(call(guarded({ acceptAfterMs: 1801 }), mobileDoes({ state: 'off' })))).toBe(
      'mailbox 1800 before-guard@1800',
    );
  });
  test('a voicemail at the instant of giving up is first', () => {
    expect(short(call(guarded({ giveUpAfterMs: 27_200 })))).toBe('carrier-voicemail 27200 connected@27200');
    expect(short(call(guarded({ giveUpAfterMs: 27_199 })))).toBe('mailbox 27199 given-up@27199');
  });
  test('giving up at the instant at which alerting begins: it has rung', () => {
    const { legs } = call(guarded({ giveUpAfterMs: 5200 }));
    expect(legs).toEqual([
      { endpoint: 'tomasz-mobile', dialledMs: 0, alertMs: 5200, endMs: 5200, end: 'given-up' },
    ]);
  });
  test('a key pressed exactly at the end counts, later not, and refusing at that instant comes after', () => {
    const keyed = guarded({ confirm: 'key' });
    expect(short(call(keyed, mobileDoes({ answerAfterMs: 0, pressAfterMs: 10_000 })))).toBe(
      'answered 15200 connected@15200',
    );
    expect(short(call(keyed, mobileDoes({ answerAfterMs: 0, pressAfterMs: 10_001 })))).toBe(
      'mailbox 15200 not-confirmed@15200',
    );
    expect(short(call(keyed, mobileDoes({ answerAfterMs: 0, pressAfterMs: 500, refuseAfterMs: 500 })))).toBe(
      'answered 5700 connected@5700',
    );
  });
  test('a far end that answers by itself is accepted like a person', () => {
    expect(short(call(guarded({ confirm: 'pin' }), mobileDoes({ state: 'auto-answer' })))).toBe(
      'answered 8200 connected@8200',
    );
  });
  test('a name is recorded once, and moves the stage', () => {
    const named = (endpoint: string): Stage => ({ ring: [{ endpoint, confirm: 'key-name' }], forMs: 10_000 });
    const { legs } = call({ stages: [named('tomasz-app'), named('tomasz-home')] });
    expect(legs.map((leg) => leg.dialledMs)).toEqual([4000, 14_000]);
  });
  test('a first leg that is answered at its dialling leaves the second undialled', () => {
    const { legs } = call(
      { stages: [ring(9000, 'tomasz-app', 'tomasz-home')] },
      { endpoints: { 'tomasz-app': { setupMs: 0, answerAfterMs: 0 } } },
    );
    expect(legs).toHaveLength(1);
  });
  test('a delay as long as the stage is never dialled', () => {
    expect(
      call({ stages: [{ ring: [{ endpoint: 'tomasz-app', delayMs: 5000 }], forMs: 5000 }] }).legs,
    ).toEqual([]);
  });
});

describe('endings', () => {
  test.each<[string, Ending, World, object]>([
    [
      'a bare number is its own id and rings like a mobile',
      { kind: 'number', number: '+16045550177' },
      { endpoints: { '+16045550177': { answerAfterMs: 1000 } } },
      { kind: 'answered', atMs: 6200, endpoint: '+16045550177' },
    ],
    [
      'a SIP address',
      { kind: 'sip', uri: 'sip:ops@ferry.example' },
      { endpoints: { 'sip:ops@ferry.example': { answerAfterMs: 0 } } },
      { kind: 'answered', atMs: 500, endpoint: 'sip:ops@ferry.example' },
    ],
    [
      'nobody for a minute',
      { kind: 'endpoint', endpoint: 'tomasz-home' },
      {},
      { kind: 'unanswered', atMs: 60_000 },
    ],
    [
      'a failed last leg says why',
      { kind: 'number', number: '+442079460000' },
      {},
      { kind: 'failed', atMs: 0, reason: 'not-permitted' },
    ],
    [
      'a number that is none',
      { kind: 'number', number: '+870773111632' },
      {},
      { kind: 'failed', atMs: 0, reason: 'bad-number' },
    ],
    [
      'no channel',
      { kind: 'number', number: '+16045550177' },
      { trunkUse: { 'ferry-terminal': 4 } },
      { kind: 'failed', atMs: 0, reason: 'no-channel' },
    ],
    [
      'a mailbox that is off',
      { kind: 'mailbox', person: 'amara' },
      {},
      { kind: 'failed', atMs: 0, reason: 'no-mailbox' },
    ],
    [
      'round to the same person',
      { kind: 'person', person: 'tomasz' },
      {},
      { kind: 'loop', atMs: 0, person: 'tomasz' },
    ],
    [
      'a queue, then',
      { kind: 'queue', maxMs: 7000, then: { kind: 'hang-up', message: 'bye' } },
      {},
      { kind: 'hung-up', atMs: 7000, message: 'bye' },
    ],
  ])('%s', (_name, ending, world, expected) => {
    expect(call({ ending }, world).outcome).toEqual(expected);
  });
  test('too many hops is looked at before a loop', () => {
    const settings = { hopLimit: 0 };
    expect(call({ ending: { kind: 'person', person: 'tomasz' }, settings }).outcome).toEqual({
      kind: 'failed',
      atMs: 0,
      reason: 'too-many-hops',
    });
  });
  test('engaged: the busy ending, and a queue there only waits', () => {
    const setting: Setting = {
      stages: [ring(5000, 'tomasz-app')],
      busy: { kind: 'queue', maxMs: 9000, then: { kind: 'mailbox' } },
    };
    const trace = call(setting, { activeCalls: { tomasz: 1 } });
    expect([short(trace), trace.path]).toEqual(['mailbox 9000', [{ person: 'tomasz', rule: 'busy' }]]);
  });
  test('a caller without patience is gone before anything', () => {
    expect(call({}, {}, { patienceMs: 0 })).toMatchObject({
      outcome: { kind: 'abandoned', atMs: 0 },
      path: [],
      legs: [],
    });
  });
});

describe('queues', () => {
  const queue: Ending = { kind: 'queue', maxMs: 20_000, then: { kind: 'mailbox' } };
  test('the stages go round until the time is over, and no stage begins at that moment', () => {
    const { legs, outcome } = call({ stages: [ring(10_000, 'tomasz-app')], ending: queue });
    expect(outcome).toEqual({ kind: 'mailbox', atMs: 30_000, person: 'tomasz' });
    expect(legs.map((leg) => leg.dialledMs)).toEqual([0, 10_000, 20_000]);
  });
  test('an answer at its last moment counts', () => {
    const world = { endpoints: { 'tomasz-app': { setupMs: 0, answerAfterMs: 20_000 } } };
    const { outcome } = call(
      { stages: [ring(500, 'tomasz-home'), ring(30_000, 'tomasz-app')], ending: queue },
      { endpoints: { ...world.endpoints, 'tomasz-home': { state: 'unregistered' } } },
    );
    expect(outcome.kind).toBe('answered');
  });
  test('a round that takes no time is followed by a second of waiting', () => {
    const { legs } = call(
      { stages: [ring(5000, 'tomasz-app')], ending: { ...queue, maxMs: 3500 } },
      { endpoints: { 'tomasz-app': { state: 'unregistered' } } },
    );
    expect(legs.map((leg) => leg.dialledMs)).toEqual([0, 0, 1000, 2000, 3000]);
  });
  test('an offer without a press leaves the queue at once', () => {
    const offer: Stage = { offer: { greetingMs: 3000, waitMs: 1000, choices: [{ key: '1', then: 'next' }] } };
    expect(call({ stages: [offer], ending: queue }).outcome).toEqual({
      kind: 'mailbox',
      atMs: 8000,
      person: 'tomasz',
    });
  });
  test('a name being recorded at the end is cut off and does not count', () => {
    const named: Stage = { ring: [{ endpoint: 'tomasz-app', confirm: 'key-name' }], forMs: 2000 };
    const off: Stage = { ring: [{ endpoint: 'tomasz-app' }], forMs: 1000 };
    const { legs } = call(
      { stages: [off, named], ending: { kind: 'queue', maxMs: 3000, then: { kind: 'mailbox' } } },
      { endpoints: { 'tomasz-app': { state: 'unregistered' } } },
    );
    expect(legs.map((leg) => leg.dialledMs)).toEqual([0, 4000, 4000, 4000, 5000, 5000, 6000, 6000]);
  });
});

describe('groups', () => {
  const group = (more: Partial<Group>): Group => ({
    id: 'bookings',
    name: 'B',
    extension: '4200',
    mode: 'circular',
    permission: 'coast',
    ringMs: 5000,
    members: [{ endpoint: 'ines-desk' }, { endpoint: 'ruth-desk' }, { endpoint: 'amara-desk' }],
    ending: { kind: 'hang-up', message: '' },
    ...more,
  });
  const order = (more: Partial<Group>, world: World) =>
    call({ groups: [group(more), worked.groups[1]!] }, world, { to: '4200' }).legs.map(
      (leg) => leg.endpoint.split('-')[0],
    );
  test('rotating begins after the member that got the last call, counted round', () => {
    expect(order({}, {})).toEqual(['ines', 'ruth', 'amara']);
    expect(order({}, { groupLast: { bookings: 0 } })).toEqual(['ruth', 'amara', 'ines']);
    expect(order({}, { groupLast: { bookings: 5 } })).toEqual(['ines', 'ruth', 'amara']);
  });
  test('longest idle first, equals as listed', () => {
    expect(order({ mode: 'longest-idle' }, { idleMs: { 'ruth-desk': 5, 'amara-desk': 9 } })).toEqual([
      'amara',
      'ruth',
      'ines',
    ]);
    expect(order({ mode: 'longest-idle' }, {})).toEqual(['ines', 'ruth', 'amara']);
  });
  test('a member on always-forward or at the limit of calls contributes nothing', () => {
    const members = [{ person: 'amara' }, { person: 'ines' }, { person: 'ruth' }];
    expect(order({ mode: 'simultaneous', members }, { activeCalls: { ines: 2 } })).toEqual(['ruth']);
  });
  test('an empty group ends at once', () => {
    expect(
      call({ groups: [group({ members: [] }), worked.groups[1]!] }, {}, { to: '4200' }).outcome,
    ).toMatchObject({ kind: 'hung-up', atMs: 0 });
  });
});
