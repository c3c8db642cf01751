import fc from 'fast-check';
import { workedEstate } from '../../tests/worked';
import { compileEstate, runCall, type Call, type World } from '../engine';
import { DEFAULT_SETTINGS, type Estate } from '../../estate';
import { actOn, beginMove, digitEvents, waitFor, type Move, type MoveAction } from './move';

const OFFICE = '2026-11-24T10:00:00-07:00';
const answeredAt = (endpoint: string, world: World = {}, estate: Estate = workedEstate()): Move => {
  const index = compileEstate(estate);
  const call: Call = {
    from: '+16045550199',
    to: '4101',
    at: OFFICE,
    world: {
      ...world,
      endpoints: { ...world.endpoints, [endpoint]: { answerAfterMs: 1000, ...world.endpoints?.[endpoint] } },
    },
  };
  return beginMove(index, call, runCall(index, call))!;
};
const last = (move: Move) => move.steps.at(-1)!;

test('hung up at the mobile and taken up at the desk, the caller hears music in between', () => {
  const talking = answeredAt('ines-mobile');
  expect(talking).toMatchObject({ atMs: 6200, state: { kind: 'talking', endpoint: 'ines-mobile' } });
  const held = actOn(talking, 20_000, { kind: 'hang-up' });
  expect(held.state).toEqual({ kind: 'held', from: 'ines-mobile', untilMs: 65_000 });
  expect(last(held).hears).toBe('music');
  const up = actOn(held, 64_999, { kind: 'take-up', endpoint: 'ines-desk' });
  expect(up.state).toEqual({ kind: 'talking', endpoint: 'ines-desk' });
  expect(last(up).hears).toBe('speech');
});
test('not taken up in time, the caller is led to the mailbox, to the millisecond', () => {
  const held = actOn(answeredAt('ines-mobile'), 20_000, { kind: 'hang-up' });
  expect(waitFor(held, 64_999).state.kind).toBe('held');
  const over = waitFor(held, 65_000);
  expect(over).toMatchObject({ atMs: 65_000, state: { kind: 'over', how: 'mailbox' } });
  expect(actOn(over, 70_000, { kind: 'take-up', endpoint: 'ines-desk' })).toBe(over);
});
test.each<[string, string, World]>([
  ['a desk that is not registered', 'ines-desk', { endpoints: { 'ines-desk': { state: 'unregistered' } } }],
  ['a mobile, which is no phone of the system', 'ines-mobile', {}],
  ['a colleague’s phone', 'ruth-desk', {}],
])('%s cannot take it up, and the call stays held', (_name, endpoint, world) => {
  const held = actOn(answeredAt('ines-mobile', world), 20_000, { kind: 'hang-up' });
  const tried = actOn(held, 25_000, { kind: 'take-up', endpoint });
  expect(tried.state).toEqual(held.state);
  expect(last(tried).text).toMatch(/cannot take it up/);
});
test('with no time to be held, hanging up ends the call', () => {
  const move = { ...answeredAt('ines-mobile'), settings: { ...DEFAULT_SETTINGS.move, heldMs: 0 } };
  expect(actOn(move, 9000, { kind: 'hang-up' }).state).toEqual({ kind: 'over', how: 'hung-up' });
});
test('the organisation’s own times and codes hold', () => {
  const estate: Estate = { ...workedEstate(), settings: { move: { heldMs: 0, toDesk: '*7' } } };
  const move = answeredAt('ines-mobile', {}, estate);
  expect(move.settings).toEqual({ ...DEFAULT_SETTINGS.move, heldMs: 0, toDesk: '*7' });
  expect(actOn(move, 9000, { kind: 'hang-up' }).state).toMatchObject({ kind: 'over' });
  expect(actOn(move, 9000, { kind: 'digits', digits: '*7' }).state).toMatchObject({ kind: 'sending' });
  expect(actOn(move, 9000, { kind: 'digits', digits: '*1' }).state).toMatchObject({ kind: 'talking' });
});

describe('sent from the desk to the mobile', () => {
  const send = (world: World, estate?: Estate) =>
    waitFor(
      actOn(answeredAt('ines-desk', world, estate), 10_000, { kind: 'send', to: 'ines-mobile' }),
      90_000,
    );
  const mobile = (does: object): World => ({ endpoints: { 'ines-mobile': does } });
  test('answered and confirmed with a key, it is there; the desk is released', () => {
    const move = send(mobile({ answerAfterMs: 8000, pressAfterMs: 2000 }));
    expect(move.state).toEqual({ kind: 'talking', endpoint: 'ines-mobile' });
    expect(move.steps.slice(1).map(({ atMs, hears }) => [atMs, hears])).toEqual([
      [10_000, 'music'],
      [15_200, 'ringing'],
      [25_200, 'speech'],
    ]);
  });
  test.each<[string, World, number, RegExp]>([
    ['nobody answers', mobile({}), 30_000, /nobody answers in time/],
    ['rejected', mobile({ rejectAfterMs: 1000 }), 16_200, /rejected/],
    ['off', mobile({ state: 'off' }), 15_200, /off or out of coverage/],
    ['answered, no key', mobile({ answerAfterMs: 0, pressAfterMs: null }), 25_200, /nobody pressed/],
    [
      'its voicemail answers',
      mobile({ mailboxAfterMs: 3000 }),
      28_200,
      /voicemail answers, and presses no key/,
    ],
    ['no channel', { trunkUse: { 'ferry-terminal': 99 } }, 10_000, /channel/],
  ])('%s: the call comes back to the desk', (_name, world, atMs, why) => {
    const move = send(world);
    expect(move.state).toEqual({ kind: 'talking', endpoint: 'ines-desk' });
    expect(last(move)).toMatchObject({ atMs, hears: 'speech', text: expect.stringMatching(why) });
  });
  test('not permitted: it comes back at once', () => {
    const estate = workedEstate();
    const people = estate.people.map((p) => (p.id === 'ines' ? { ...p, permission: 'inside' } : p));
    expect(last(send({}, { ...estate, people }))).toMatchObject({
      atMs: 10_000,
      text: expect.stringMatching(/permission/),
    });
  });
});

describe('keys at the mobile', () => {
  const keys = (digits: string) => actOn(answeredAt('ines-mobile'), 9000, { kind: 'digits', digits });
  test('are the events of RFC 4733', () => {
    expect(digitEvents('*1#0D')).toEqual([10, 1, 11, 0, 15]);
    expect(keys('*1').steps.some(({ text }) => text.includes('events 10, 1'))).toBe(true);
  });
  test('the code to the desk sends the call there', () => {
    expect(keys('*1').state).toMatchObject({ kind: 'sending', to: 'ines-desk' });
  });
  test('the code to transfer leads to an extension’s own plan, or to a number that may be called', () => {
    expect(keys('*24102#')).toMatchObject({ state: { kind: 'over', how: 'transferred' } });
    expect(keys('*2912505550123#').state).toMatchObject({ how: 'transferred' });
    expect(keys('*2901144207946000#').state).toMatchObject({ kind: 'talking' });
    expect(last(keys('*2#')).text).toMatch(/does not go/);
  });
  test('other keys, and keys at a desk, change nothing', () => {
    expect(keys('55').state.kind).toBe('talking');
    const desk = actOn(answeredAt('ines-desk'), 9000, { kind: 'digits', digits: '*1' });
    expect(desk.state).toEqual({ kind: 'talking', endpoint: 'ines-desk' });
  });
});

test('whatever is done and whenever, time goes on, an ended call stays ended, and the caller always hears something', () => {
  const action: fc.Arbitrary<MoveAction> = fc.oneof(
    fc.constant({ kind: 'hang-up' as const }),
    fc
      .constantFrom('ines-desk', 'ines-mobile', 'nobody')
      .map((endpoint) => ({ kind: 'take-up' as const, endpoint })),
    fc.constantFrom('ines-desk', 'ines-mobile', 'nobody').map((to) => ({ kind: 'send' as const, to })),
    fc.constantFrom('*1', '*24102#', '7').map((digits) => ({ kind: 'digits' as const, digits })),
  );
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.integer({ min: 0, max: 40_000 }), action), { maxLength: 8 }),
      (actions) => {
        let move = answeredAt('ines-mobile', { endpoints: { 'ines-desk': { answerAfterMs: 30_000 } } });
        for (const [afterMs, each] of actions) {
          const before = move;
          move = actOn(move, move.atMs + afterMs, each);
          expect(move.atMs).toBeGreaterThanOrEqual(before.atMs);
          if (before.state.kind === 'over') expect(move).toBe(before);
          const { hears } = last(move);
          expect(hears === 'nothing').toBe(move.state.kind === 'over');
        }
        const times = move.steps.map(({ atMs }) => atMs);
        expect(times).toEqual([...times].sort((a, b) => a - b));
      },
    ),
    { numRuns: 150 },
  );
});
