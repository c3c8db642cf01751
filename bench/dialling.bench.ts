import { parsePhoneNumberFromString } from 'libphonenumber-js/max';
import { skerrowSoundFerries } from '../demo/skerrow';
import { dialReader } from '../core/calls/dialling';
import type { Line } from './engine.bench';

const EACH = 20_000;

/** How many a second, the median of five rounds. */
function rate(does: (i: number) => unknown): number {
  const rates = Array.from({ length: 5 }, () => {
    const began = performance.now();
    for (let i = 0; i < EACH; i += 1) does(i);
    return (EACH / (performance.now() - began)) * 1000;
  });
  return rates.sort((a, b) => a - b)[2] ?? 0;
}

/** What somebody typed: where the plan's own rules decide, and where the numbering plan must. */
export function diallingBench(line: Line): void {
  const estate = skerrowSoundFerries();
  const extensions = new Set(estate.people.flatMap(({ lines }) => lines.map(({ extension }) => extension)));
  const reader = dialReader(estate.dialling, extensions);
  const known = [...extensions];
  const own = rate((i) => reader.interpret(known[i % known.length] ?? ''));
  line(
    'interpret: the plan’s own rules decide',
    `${Math.round(own).toLocaleString('en')}/s`,
    'aim: 200,000/s',
  );
  const typed = (i: number) => `91778555${String(1000 + (i % 9000))}`;
  const alone = rate((i) => parsePhoneNumberFromString(`+${typed(i).slice(1)}`)?.getType());
  const read = rate((i) => reader.interpret(typed(i)));
  line(
    'interpret: the numbering plan decides',
    `${Math.round(read).toLocaleString('en')}/s`,
    `${(alone / read).toFixed(2)} times the cost of libphonenumber-js alone (aim: 1.5 at most)`,
  );
}
