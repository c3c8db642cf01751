import { runCall, compileEstate, type Call, type Trace } from '../engine';
import { workedCalls, workedEstate, type WorkedCall } from '../../tests/worked';
import { compareTraces } from './compare';
import { isFirm } from './firm';
import { followCall, type Following } from './follow';
import { worldOf } from './world';

const index = compileEstate(workedEstate());
const golden = workedCalls();

/** Something that is seen at a phone or of the caller, some ms after the call came. */
interface Event {
  readonly atMs: number;
  /** The leg that it is of; left out: of the caller. */
  readonly leg?: number;
  readonly tell: (following: Following, atMs: number) => void;
}

/** What is seen of a leg that went as the worked call says, and of nothing that its own end does not tell. */
function seenOf(leg: number, { call, expect: { outcome, legs } }: WorkedCall, nth: number): readonly Event[] {
  const { endpoint, alertMs, endMs, end } = legs[nth]!;
  const at = (atMs: number, tell: Event['tell']): Event => ({ leg, atMs, tell });
  const rings = alertMs === null ? [] : [at(alertMs, (following, ms) => following.alerted(leg, ms))];
  const byMachine = end === 'before-guard' || (end === 'connected' && outcome.kind === 'carrier-voicemail');
  const answered = (atMs: number) => at(atMs, (following, ms) => following.answered(leg, ms, byMachine));
  const pickedUpMs = (alertMs ?? 0) + (call.world?.endpoints?.[endpoint]?.answerAfterMs ?? 0);
  switch (end) {
    case 'connected': {
      // Where whoever answers has to press a key, the leg is theirs only then.
      const isAsked = !byMachine && endMs > pickedUpMs;
      return isAsked
        ? [...rings, answered(pickedUpMs), at(endMs, (following, ms) => following.accepted(leg, ms))]
        : [...rings, answered(endMs)];
    }
    case 'before-guard':
      return [...rings, answered(endMs)];
    case 'not-confirmed': {
      // Picked up by somebody who presses nothing, or by the carrier's voicemail, which cannot.
      const somebody = call.world?.endpoints?.[endpoint]?.answerAfterMs;
      const machineMs = index.endpoints.get(endpoint)?.endpoint.mailboxAfterMs ?? 0;
      return [...rings, answered(typeof somebody === 'number' ? pickedUpMs : (alertMs ?? 0) + machineMs)];
    }
    case 'refused':
      return [...rings, answered(pickedUpMs), at(endMs, (following, ms) => following.refused(leg, ms))];
    case 'busy':
    case 'unreachable':
    case 'rejected':
    case 'do-not-disturb':
      return [...rings, at(endMs, (following, ms) => following.failed(leg, ms, end))];
    // The end is the system's own doing, or comes of something else.
    case 'bad-number':
    case 'not-permitted':
    case 'no-route':
    case 'no-channel':
    case 'unregistered':
    case 'given-up':
    case 'no-answer':
    case 'answered-elsewhere':
    case 'caller-gone':
      return rings;
  }
}

/** Tells a following what a worked call says was seen, a few ms late, and gives the call as it followed it. */
function follow(worked: WorkedCall, lateMs: number): Trace {
  const { call, expect: expected } = worked;
  const world = worldOf(index, call);
  const following = followCall(index, call, {
    isRegistered: (id) => world.isRegistered(id, 0),
    channelsInUse: (id) => world.channelsInUse(id, 0),
    activeCalls: (id) => world.activeCalls(id, 0),
  });
  const due: Event[] = [];
  const late = (events: readonly Event[]) => {
    due.push(...events.map((each) => ({ ...each, atMs: each.atMs + lateMs })));
    due.sort((a, b) => a.atMs - b.atMs);
  };
  if (typeof call.patienceMs === 'number')
    due.push({ atMs: call.patienceMs, tell: (told, ms) => told.callerGone(ms) });
  const over = new Set<number>();
  const taken = new Set<number>();
  let heard = '';
  let now = 0;
  for (let turns = 0; turns < 5000; turns += 1) {
    const look = following.look(now);
    for (const each of look.todo) {
      if (each.todo === 'dial') {
        const nth = expected.legs.findIndex(
          ({ endpoint }, i) => !taken.has(i) && (endpoint === each.endpoint || endpoint === each.number),
        );
        if (nth < 0) throw new Error(`${each.endpoint} is dialled and stands in no leg`);
        taken.add(nth);
        late(seenOf(each.leg, worked, nth));
      }
      if (each.todo === 'end') over.add(each.leg);
      if (each.todo === 'finish') return following.trace();
    }
    if (look.heard.setting + look.heard.sinceMs !== heard) {
      heard = look.heard.setting + look.heard.sinceMs;
      late(keysOf(call, look.heard.kind, now));
    }
    const next = due.find(({ leg }) => leg === undefined || !over.has(leg));
    now = Math.min(next?.atMs ?? Infinity, look.nextMs ?? Infinity);
    if (next && next.atMs <= now) {
      due.splice(due.indexOf(next), 1);
      next.tell(following, next.atMs);
    }
  }
  throw new Error('the call did not end');
}

/** The keys that the caller presses at what is heard now. */
function keysOf({ world }: Call, heard: string, now: number): readonly Event[] {
  const { presses = {}, code } = world ?? {};
  const menu = Object.entries(presses).find(([id]) => id !== 'offer')?.[1];
  const press = heard === 'offer' ? presses.offer : heard === 'menu' ? menu : undefined;
  const keys = press ? [{ key: press.key, atMs: now + press.afterMs }] : [];
  const digits =
    heard === 'code' && code ? [...code.digits].map((key) => ({ key, atMs: now + code.afterMs })) : [];
  return [...keys, ...digits].map(({ key, atMs }) => ({
    atMs,
    tell: (following, ms) => following.pressed(key, ms),
  }));
}

const LATE = 3;

test('what is seen a little late is followed to what each worked call that allows it comes to', () => {
  const firm = golden.filter(({ call }) => isFirm(index, call, 200));
  expect(firm.length).toBeGreaterThan(20);
  for (const worked of firm) {
    const seen = follow(worked, LATE);
    const wanted = { ...worked.expect, events: [] };
    expect({ name: worked.name, departures: compareTraces(wanted, seen, 60) }).toEqual({
      name: worked.name,
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
