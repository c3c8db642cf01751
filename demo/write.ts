import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { skerrowSoundFerries } from './skerrow';
import { passengers } from './passengers';
import { demoWork } from './work';

/** Writes the demo estate, and what is in work there, anew: `npx tsx demo/write.ts`. */
const write = (name: string, value: unknown) =>
  writeFileSync(join(__dirname, name), `${JSON.stringify(value, null, 1)}\n`);
const estate = skerrowSoundFerries();
write('skerrow.estate.json', estate);
write('skerrow.work.json', demoWork(estate));
writeFileSync(join(__dirname, 'passengers.csv'), passengers());
