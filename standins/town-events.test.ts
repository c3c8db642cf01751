import { compileEstate, runCall } from '../core/calls/engine';
import { workedCalls, workedEstate } from '../core/tests/worked';
import type { FromStandins } from './messages';
import { townEvents } from './town-events';

test('where a call rings is told as it goes on, without its steps in words', () => {
  const told: FromStandins[] = [];
  const trace = runCall(compileEstate(workedEstate()), workedCalls()[0]!.call);
  expect(trace.events).not.toEqual([]);
  townEvents(
    (message) => told.push(message),
    () => {
      throw new Error('no registration');
    },
    () => ({}),
  )({ kind: 'call-went-on', id: 'one', trace, atMs: 3 });
  expect(told).toEqual([{ kind: 'call-went-on', id: 'one', trace: { ...trace, events: [] }, atMs: 3 }]);
});
