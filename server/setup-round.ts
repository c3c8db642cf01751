import { readFileSync } from 'node:fs';
import { resolve } from 'node:path';
import { beginningRound, readRoundList } from '../core/rounds';
import { readCsv } from '../core/formats';
import type { Estate } from '../core/estate';
import { toneMuLaw } from '../core/wire/rtp';
import type { Tx } from './db';
import { insertRecording } from './recordings';
import { insertRound, patchRound, putNeverCall, putNumbers } from './rounds';

const LIST = resolve(__dirname, '../demo/passengers.csv');
/** Three bells, in the place of a voice: nobody real is heard. */
const BELLS = [523, 659, 784].flatMap((hertz) => [
  ...toneMuLaw(hertz, 900, 0.3),
  ...toneMuLaw(hertz / 2, 500, 0.2),
]);

/** A cancelled sailing that 40 passengers are to be told of: recording and list are there, approval is not. */
export async function demoRound(tx: Tx, estate: Estate, at: Date): Promise<void> {
  const permission = estate.permissions.find(({ id }) => id === 'coast') ?? estate.permissions[0];
  const file = readFileSync(LIST);
  const csv = readCsv(file.toString('utf8'));
  if (!permission || !csv.ok) return;
  const muLaw = Uint8Array.from(BELLS);
  const recording = await insertRecording(tx, {
    name: 'Sailing 7 is cancelled',
    muLaw,
    ms: muLaw.length / 8,
    by: 'set-up',
    at,
  });
  const never = '+17785550187';
  await putNeverCall(tx, { number: never, at, who: 'set-up', why: 'pressed 9 in an earlier round' });
  const callerId = estate.people.flatMap(({ lines }) => lines.flatMap(({ numbers }) => numbers))[0];
  const id = await insertRound(tx, {
    plan: {
      ...beginningRound('Sailing 7 of Friday cancelled', permission.id),
      recording,
      callerId: callerId ?? null,
    },
    by: 0,
    at,
  });
  const list = readRoundList(csv.table, { estate, permission: permission.id, never: new Set([never]) });
  if (!list.ok) return;
  await patchRound(tx, id, { listName: 'passengers.csv', listFile: new Uint8Array(file) });
  await putNumbers(tx, id, list.rows, at);
}
