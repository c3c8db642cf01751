import { readEstate } from '../../estate';
import { workedCalls, workedEstate } from '../../tests/worked';
import { callFaults } from './call-schema';
import { compileEstate } from './compile';
import { runCall } from './run';

const checked = readEstate(workedEstate());
const cases = workedCalls();

test('the worked estate has no faults', () => {
  expect(checked).toMatchObject({ ok: true });
});

describe('worked calls, to the millisecond', () => {
  if (!checked.ok) return;
  const index = compileEstate(checked.estate);
  test.each(cases)('$name', ({ call, expect: expected }) => {
    expect(callFaults(call)).toEqual([]);
    const { outcome, legs, path, trunkMs } = runCall(index, call);
    expect({ outcome, legs, path, trunkMs }).toEqual(expected);
  });
});
