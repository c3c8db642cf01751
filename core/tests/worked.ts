import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { readKept, type Estate } from '../estate';
import type { Call, Trace } from '../calls/engine';

const read = (name: string): unknown => readKept(readFileSync(join(__dirname, '../golden', name), 'utf8'));

/** A call of `core/golden` with what is known to come of it. */
export interface WorkedCall {
  readonly name: string;
  readonly call: Call;
  readonly expect: Omit<Trace, 'events'>;
}

/** The estate of the worked calls, which tests share. Its file has the names of before, and keeps them. */
export const workedEstate = (): Estate => read('estate.json') as Estate;
export const workedCalls = (): readonly WorkedCall[] => read('calls.json') as readonly WorkedCall[];
