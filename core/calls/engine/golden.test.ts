import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { readEstate } from '../../estate';
import { callFaults } from './call-schema';
import { compileEstate } from './compile';
import { runCall } from './run';
import type { Call, Trace } from './types';

const read = (name: string): unknown =>
  JSON.parse(readFileSync(join(__dirname, '../../golden', name), 'utf8'));

interface Golden {
  readonly name: string;
  readonly call: Call;
  readonly expect: Omit<Trace, 'events'>;
}

const checked = readEstate(read('estate.json'));
const cases = read('calls.json') as readonly Golden[];

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
