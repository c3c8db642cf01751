import type { Person } from '../../core/estate';
import type { Call } from '../../core/calls/engine';
import { changeCount, draftPerson, useDrafts } from './draft';
import { useMet } from './met';
import { momentOf, PLAIN_MOMENT, useMoments } from './moment';
import { usePeopleSearch } from './peopleSearch';
import { useSession } from './session';
import { useSlateInWork } from './slate';
import { useWorks } from './works';

const person: Person = {
  id: 'ada',
  name: 'Ada',
  status: 'on',
  permission: 'all',
  maxCalls: 1,
  lines: [],
  endpoints: [],
  plan: { rules: [], otherwise: { stages: [], ending: { kind: 'mailbox' } } },
};
const named = (name: string) => (p: Person) => ({ ...p, name });
const drafts = () => useDrafts.getState();

describe('drafts', () => {
  beforeEach(() => drafts().discard('ada'));
  test('each step can be taken back; the last leaves none', () => {
    drafts().edit(person, 1, named('B'));
    drafts().edit(person, 1, named('C'));
    expect(draftPerson(drafts().drafts.ada)?.name).toBe('C');
    drafts().undo('ada');
    expect(draftPerson(drafts().drafts.ada)?.name).toBe('B');
    drafts().undo('ada');
    expect(drafts().drafts.ada).toBeUndefined();
  });
  test('changes of one kind that follow each other are one step', () => {
    drafts().edit(person, 1, named('B'), 'name');
    drafts().edit(person, 1, named('Be'), 'name');
    drafts().edit(person, 1, (p) => ({ ...p, maxCalls: 2 }), 'calls');
    expect(drafts().drafts.ada?.steps).toHaveLength(2);
    drafts().undo('ada');
    expect(draftPerson(drafts().drafts.ada)).toMatchObject({ name: 'Be', maxCalls: 1 });
  });
  test('what came back to what it was counts as no change; a newer version keeps the edits', () => {
    drafts().edit(person, 1, named('B'));
    expect(changeCount(drafts().drafts.ada)).toBe(1);
    drafts().rebase('ada', { ...person, maxCalls: 4 }, 7);
    expect(drafts().drafts.ada).toMatchObject({ version: 7, base: { maxCalls: 4 } });
    drafts().edit(person, 1, () => ({ ...person, maxCalls: 4 }));
    expect(changeCount(drafts().drafts.ada)).toBe(0);
  });
});

describe('moments', () => {
  const call: Call = {
    from: null,
    to: '4100',
    at: '2026-11-24T10:00:00-07:00',
    arrival: 'group',
    patienceMs: 9000,
    world: {
      endpoints: { m: { state: 'off' } },
      presses: { offer: { key: '1', afterMs: 0 } },
      code: { digits: '42', afterMs: 0 },
      activeCalls: { ada: 1, ben: 2 },
      seats: { front: { state: 'ready', at: { endpoint: 'm' } } },
    },
  };
  test('a call is taken apart into its moment, whole', () => {
    expect(momentOf(call, person, 'off')).toEqual({
      epochMs: Date.parse('2026-11-24T17:00:00Z'),
      status: 'off',
      caller: 'withheld',
      callerNumber: '',
      behaviours: { m: { state: 'off' } },
      presses: { offer: { key: '1', afterMs: 0 } },
      code: '42',
      engaged: true,
      othersEngaged: { ben: 2 },
      arrival: 'group',
      patienceMs: 9000,
      to: null,
      codeAfterMs: 0,
      groupLast: {},
      idleMs: {},
      seats: { front: { state: 'ready', at: { endpoint: 'm' } } },
    });
  });
  test.each([
    ['+0', 'outside', ''],
    ['0', 'inside', ''],
    ['+16045550199', 'number', '+16045550199'],
  ])('a caller %s is %s', (from, caller, callerNumber) => {
    expect(momentOf({ ...call, from }, person, 'on')).toMatchObject({ caller, callerNumber, status: null });
  });
  test('what one phone does is set and taken away by itself', () => {
    const { behave, set } = useMoments.getState();
    set('ada', PLAIN_MOMENT);
    behave('ada', 'm', { state: 'busy' });
    behave('ada', 'd', { answerAfterMs: 1 });
    behave('ada', 'm', null);
    expect(useMoments.getState().moments.ada?.behaviours).toEqual({ d: { answerAfterMs: 1 } });
  });
});

describe('whose work a tab keeps', () => {
  const answers = globalThis.fetch;
  afterEach(() => {
    globalThis.fetch = answers;
  });
  const signIn = (name: string) => {
    const account = { name, role: 'specialist', timeZone: 'America/Vancouver' };
    globalThis.fetch = async () => Response.json(account);
    return useSession.getState().signIn(name, 'any');
  };
  const work = () => {
    drafts().edit(person, 1, named('B'));
    useMoments.getState().set('ada', PLAIN_MOMENT);
    usePeopleSearch.getState().set({ query: '+1 604 555 0199' });
    useSlateInWork.getState().choose(7);
    useMet.setState({ part: { people: [person], groups: [], menus: [] } });
    useWorks.getState().put('group/bookings', { base: { object: {}, version: 1 }, steps: [{}] });
  };
  const kept = () => ({
    drafts: Object.keys(drafts().drafts),
    works: Object.keys(useWorks.getState().works),
    moments: Object.keys(useMoments.getState().moments),
    query: usePeopleSearch.getState().query,
    slate: useSlateInWork.getState().current,
    met: useMet.getState().part.people.length,
  });
  const NOTHING = { drafts: [], works: [], moments: [], query: '', slate: null, met: 0 };
  /** What a session's end of itself leaves behind: nobody is signed in, and nobody left. */
  const sessionEnds = () => useSession.setState({ state: 'out', account: null });

  test('who signs out leaves nothing', async () => {
    await signIn('first');
    work();
    globalThis.fetch = async () => Response.json({});
    await useSession.getState().signOut();
    expect(kept()).toEqual(NOTHING);
  });
  test('where a session ended by itself the same account goes on, and another finds nothing', async () => {
    await signIn('first');
    work();
    sessionEnds();
    await signIn('first');
    expect(kept()).toEqual({
      ...NOTHING,
      drafts: ['ada'],
      works: ['group/bookings'],
      moments: ['ada'],
      query: '+1 604 555 0199',
      slate: 7,
      met: 1,
    });
    sessionEnds();
    await signIn('second');
    expect(kept()).toEqual(NOTHING);
  });
});
