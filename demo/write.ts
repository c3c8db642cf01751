import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { skerrowSoundFerries } from './skerrow';

/** Writes the demo estate anew: `npx tsx demo/write.ts`. */
writeFileSync(join(__dirname, 'skerrow.estate.json'), `${JSON.stringify(skerrowSoundFerries(), null, 1)}\n`);
