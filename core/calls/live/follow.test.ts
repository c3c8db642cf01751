import {
  knownEndpoint,
  runCall,
  compileEstate,
  type Call,
  type EndpointBehaviour,
  type Trace,
} from '../engine';
import { workedCalls, workedEstate } from '../../tests/worked';
import { compareTraces } from './compare';
import { isFirm } from './firm';
import { followCall, type Following, type Todo } from './follow';
import { worldOf } from './world';

const index = compileEstate(workedEstate());
const golden = workedCalls();

/** Places a call over pretended phones that do as its world says, a few ms late, and gives what was seen. */
function place(call: Call, lateMs: number): Trace {
  const world = worldOf(index, call);
  const following = followCall(index, call, {
    isRegistered: (id) => world.isRegistered(id, 0),
    channelsInUse: (id) => world.channelsInUse(id, 0),
    activeCalls: (id) => world.activeCalls(id, 0),
  });
  const queue: { atMs: number; act: () => void; leg: number }[] = [];
  const live = new Set<number>();
  const later = (leg: number, atMs: number, act: (atMs: number) => void) =>
    queue.push({ leg, atMs: atMs + lateMs, act: () => act(atMs + lateMs) });
  let heard = '';
  let now = 0;
  if (typeof call.patienceMs === 'number')
    queue.push({ leg: -1, atMs: call.patienceMs, act: () => following.callerGone(call.patienceMs!) });
  for (let turns = 0; turns < 5000; turns += 1) {
    const look = following.look(now);
    for (const each of look.todo) {
      if (each.todo === 'dial') {
        live.add(each.leg);
        ring(following, world.leg(each.leg, each.endpoint, now), each, now, later);
      }
      if (each.todo === 'end') live.delete(each.leg);
      if (each.todo === 'finish') return following.trace();
    }
    if (look.heard.setting + look.heard.sinceMs !== heard) {
      heard = look.heard.setting + look.heard.sinceMs;
      pressKeys(following, call, look.heard.kind, now, later);
    }
    const due = queue.filter(({ leg }) => leg < 0 || live.has(leg)).sort((a, b) => a.atMs - b.atMs)[0];
    now = Math.min(due?.atMs ?? Infinity, look.nextMs ?? Infinity);
    if (due && due.atMs <= now) {
      queue.splice(queue.indexOf(due), 1);
      due.act();
    }
  }
  throw new Error('the call did not end');
}

type Later = (leg: number, atMs: number, act: (atMs: number) => void) => void;

function pressKeys(following: Following, call: Call, heard: string, now: number, later: Later) {
  const { presses, code } = call.world ?? {};
  const menu = Object.entries(presses ?? {}).find(([id]) => id !== 'offer')?.[1];
  const press = heard === 'offer' ? presses?.offer : heard === 'menu' ? menu : undefined;
  if (press) later(-1, now + press.afterMs, (atMs) => following.pressed(press.key, atMs));
  if (heard === 'code' && code)
    for (const digit of code.digits) later(-1, now + code.afterMs, (atMs) => following.pressed(digit, atMs));
}

/** What one pretended phone does once dialled. */
function ring(
  following: Following,
  given: EndpointBehaviour,
  { leg, endpoint, number }: Extract<Todo, { todo: 'dial' }>,
  now: number,
  later: Later,
) {
  const known =
    index.endpoints.get(endpoint) ??
    knownEndpoint({ id: endpoint, label: '', kind: number ? 'mobile' : 'sip', number: endpoint }, null);
  const { times } = known;
  const state = given.state ?? 'ready';
  const mailbox =
    number === null ? null : given.mailboxAfterMs === undefined ? times.mailboxAfterMs : given.mailboxAfterMs;
  const ready =
    now +
    (given.setupMs ?? times.setupMs) +
    (state === 'asleep' && known.endpoint.kind === 'mobile-app' ? times.wakeMs : 0);
  const answer = (byVoicemail: boolean) => (atMs: number) => {
    following.answered(leg, atMs, byVoicemail);
    if (byVoicemail || following.confirms(leg) === 'none') return;
    const press = given.pressAfterMs === undefined ? 3000 : given.pressAfterMs;
    if (press !== null) later(leg, atMs + press, (at) => following.accepted(leg, at));
    const refuse = given.refuseAfterMs ?? null;
    if (refuse !== null) later(leg, atMs + refuse, (at) => following.refused(leg, at));
  };
  if (state === 'off' || state === 'busy') {
    if (mailbox !== null) later(leg, now + (given.offAnswerMs ?? times.offAnswerMs), answer(true));
    else later(leg, ready, (at) => following.failed(leg, at, state === 'busy' ? 'busy' : 'unreachable'));
    return;
  }
  if (state === 'do-not-disturb' && number === null)
    return later(leg, ready, (at) => following.failed(leg, at, 'do-not-disturb'));
  later(leg, ready, (at) => following.alerted(leg, at));
  if (mailbox !== null) later(leg, ready + mailbox, answer(true));
  if (state === 'auto-answer') return later(leg, ready + 1, answer(false));
  if (state === 'do-not-disturb') return;
  if (typeof given.answerAfterMs === 'number') later(leg, ready + given.answerAfterMs, answer(false));
  if (typeof given.rejectAfterMs === 'number')
    later(leg, ready + given.rejectAfterMs, (at) => following.failed(leg, at, 'rejected'));
}

const LATE = 3;

test('a call that is placed over phones a little late goes as the model says, over every worked call that allows it', () => {
  const firm = golden.filter(({ call }) => isFirm(index, call, 200));
  expect(firm.length).toBeGreaterThan(20);
  for (const { name, call } of firm) {
    const seen = place(call, LATE);
    expect({ name, departures: compareTraces(runCall(index, call), seen, 60) }).toEqual({
      name,
      departures: [],
    });
  }
});

test('a call whose end hangs on which of two things comes first within an instant is not firm', () => {
  const call = (answerAfterMs: number): Call => ({
    from: '+16045550199',
    to: '+12505550101',
    at: '2026-11-24T14:20:00-07:00',
    world: { endpoints: { 'ines-desk': { answerAfterMs } } },
  });
  const stageMs = runCall(index, call(10_000_000)).legs[0]!.endMs;
  expect(isFirm(index, call(6000), 100)).toBe(true);
  expect(isFirm(index, call(stageMs - 200), 100)).toBe(false);
});

describe('what has been looked at stays as it was', () => {
  const call: Call = { from: '+16045550199', to: '+12505550101', at: '2026-11-24T14:20:00-07:00' };
  const around = { isRegistered: () => true, channelsInUse: () => 0, activeCalls: () => 0 };

  test('an answer that comes after its leg was ended changes nothing', () => {
    const following = followCall(index, call, around);
    following.look(0);
    following.alerted(0, 200);
    const end = runCall(index, call).legs[0]!.endMs;
    const ended = following.look(end).todo;
    expect(ended).toContainEqual({ todo: 'end', leg: 0, why: 'no-answer' });
    following.answered(0, end, false);
    expect(following.trace().legs[0]).toMatchObject({ end: 'no-answer', endMs: end });
  });

  test('a phone that registers after it was dialled in vain is not dialled by hindsight', () => {
    let isThere = false;
    const following = followCall(index, call, { ...around, isRegistered: () => isThere });
    expect(following.look(0).todo[0]).toMatchObject({ todo: 'refuse', why: 'unregistered' });
    isThere = true;
    expect(following.look(1000).todo).toEqual([]);
    expect(following.trace().legs[0]!.end).toBe('unregistered');
  });

  test('a channel that another call takes later leaves a leg that is up alone', () => {
    let taken = 0;
    const following = followCall(index, call, { ...around, channelsInUse: () => taken });
    const first = following.look(0).todo;
    expect(first).toContainEqual(
      expect.objectContaining({ todo: 'dial', number: expect.stringMatching(/^\+/) }),
    );
    taken = 1000;
    following.alerted(1, 5200);
    expect(following.look(6000).todo).toEqual([]);
    expect(following.trace().legs.map(({ end }) => end)).not.toContain('no-channel');
  });
});

test('each kind of departure is told, and times within the tolerance are not', () => {
  const base = runCall(index, golden[0]!.call);
  const [first, ...rest] = base.legs;
  const change = (seen: Partial<Trace>) =>
    compareTraces(base, { ...base, ...seen }, 50).map(({ what }) => what);
  expect(change({})).toEqual([]);
  expect(change({ outcome: { ...base.outcome, atMs: base.outcome.atMs + 50 } })).toEqual([]);
  expect(change({ outcome: { ...base.outcome, atMs: base.outcome.atMs + 51 } })).toEqual(['end-time']);
  expect(change({ outcome: { kind: 'abandoned', atMs: base.outcome.atMs } })).toEqual(['outcome']);
  expect(change({ legs: rest })).toEqual(['leg-missing']);
  expect(change({ legs: [...base.legs, first!] })).toEqual(['leg-extra']);
  expect(change({ legs: [{ ...first!, end: 'busy' }, ...rest] })).toEqual(['leg-end']);
  expect(change({ legs: [{ ...first!, alertMs: null }, ...rest] })).toEqual(['leg-time']);
});
