import { compileEstate, runCall, type Call, type World } from '../calls/engine';
import { personOf, ringing, smallEstate } from '../tests/small';
import { explainCall, recordOfCall, type DeskThen } from '.';

const HOT = 'ada-hot';
const ada = personOf(
  'ada',
  1,
  { otherwise: ringing([{ endpoint: HOT }, { endpoint: 'ada-mobile' }]) },
  {
    endpoints: [
      { id: HOT, label: 'Shared desk', kind: 'hot-desk' },
      { id: 'ada-mobile', label: 'Mobile', kind: 'mobile', number: '+12505550121' },
    ],
  },
);
const index = compileEstate(smallEstate([ada]));
const CALL: Call = { from: '+16045550199', to: '4101', at: '2026-11-25T10:00:00-07:00' };

/** The call as it would be recorded with the shared desk as it was. */
function recorded(state: 'unregistered' | 'ready') {
  const world: World = {
    endpoints: { [HOT]: { state }, 'ada-mobile': { state: 'ready', answerAfterMs: 6000 } },
  };
  const trace = runCall(index, { ...CALL, world });
  const startMs = Date.parse(CALL.at);
  const { world: _kept, ...record } = recordOfCall({
    id: 'one',
    startMs,
    call: CALL,
    trace,
    settledMs: trace.outcome.atMs,
    overMs: trace.outcome.atMs + 30_000,
  });
  return record;
}
const desk: DeskThen = { desk: 'hall', sinceMs: 0, untilMs: null };
const at = new Map([[HOT, desk]]);
const nowhere = new Map<string, DeskThen>();

test('a call that rang the mobile alone went as it was set where its person was signed on nowhere', () => {
  const record = recorded('unregistered');
  expect(explainCall({ index, desks: nowhere }, record)).toMatchObject({ went: 'planned', reason: null });
});

test('one that left out the shared desk of somebody who was signed on there is explained by that', () => {
  const explained = explainCall({ index, desks: at }, recorded('unregistered'));
  expect(explained.went).toBe('otherwise');
  expect(explained.reason).toEqual({
    id: `signed-off/${HOT}`,
    says: "the phone system had Ada's shared desk as signed off already",
  });
});

test('one that rang a shared desk at which nobody of that name was signed on is explained by that', () => {
  const explained = explainCall({ index, desks: nowhere }, recorded('ready'));
  expect([explained.went, explained.reason?.id]).toEqual(['otherwise', `signed-on/${HOT}`]);
});

test('where nothing is known of desks, what the registrations of then say counts', () => {
  const record = recorded('unregistered');
  const registered = new Map([[HOT, false]]);
  expect(explainCall({ index, registered }, record).went).toBe('planned');
  expect(explainCall({ index, registered, desks: at }, record).went).toBe('otherwise');
});

test('a call to an access number that led to none, and one out, are no plan’s', () => {
  const access = { id: 'out', name: 'Out', number: '+12505550199' };
  const record = recorded('ready');
  const then = { index: compileEstate({ ...smallEstate([ada]), accessNumbers: [access] }) };
  expect(explainCall(then, { ...record, to: access.number })).toMatchObject({
    went: 'unsure',
    says: 'A call to an access number that led to no call out.',
  });
  expect(explainCall(then, { ...record, from: '4101', to: '+16045550199' }).says).toContain('A call out');
});
