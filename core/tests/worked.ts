import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Estate } from '../estate';

/** The estate of the worked calls, which tests of the core share. */
export const workedEstate = (): Estate =>
  JSON.parse(readFileSync(join(__dirname, '../golden/estate.json'), 'utf8')) as Estate;
