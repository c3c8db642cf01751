import { CODECS, quality, type Codec } from '../core/quality';
import { fail, options } from './io';

/** The numbers of the command, each with its least and most value. */
const NUMBERS = {
  delay: { field: 'delayMs', least: 0, most: 60_000, isNeeded: true },
  jitter: { field: 'jitterMs', least: 0, most: 60_000, isNeeded: true },
  loss: { field: 'lossPercent', least: 0, most: 100, isNeeded: true },
  burst: { field: 'burst', least: 1, most: 1_000_000, isNeeded: false },
  buffer: { field: 'bufferMs', least: 0, most: 60_000, isNeeded: false },
  packet: { field: 'packetMs', least: 1, most: 1000, isNeeded: false },
} as const;

/**
 * `quality --delay MS --jitter MS --loss PERCENT [--burst N] --codec NAME [--buffer MS] [--packet MS] [--json]`: how a
 * call over such a line sounds, as R and MOS of the E-model (ITU-T G.107).
 */
export async function callQuality(args: string[]): Promise<number> {
  const string = { type: 'string' } as const;
  const given = options(args, {
    ...Object.fromEntries(Object.keys(NUMBERS).map((name) => [name, string])),
    codec: string,
    json: { type: 'boolean' },
  });
  if (!given.ok) return fail(given.message);
  const texts = given.value as Record<string, string | undefined>;
  const wrong: string[] = [];
  const values: Record<string, number> = {};
  for (const [name, { field, least, most, isNeeded }] of Object.entries(NUMBERS)) {
    const text = texts[name];
    if (text === undefined) {
      if (isNeeded) wrong.push(`--${name}: is missing`);
      continue;
    }
    const value = /^\d+(\.\d+)?$/.test(text) ? Number(text) : NaN;
    if (value >= least && value <= most) values[field] = value;
    else wrong.push(`--${name}: must be a number from ${least} to ${most}`);
  }
  const codec = CODECS.find((each) => each === texts.codec);
  if (!codec)
    wrong.push(
      `--codec: ${texts.codec === undefined ? 'is missing: one of' : 'must be one of'} ${CODECS.join(', ')}`,
    );
  if (wrong.length > 0 || !codec) return fail(wrong.join('\n'));
  const line = values as { delayMs: number; jitterMs: number; lossPercent: number };
  const result = quality({ ...line, codec: codec satisfies Codec });
  process.stdout.write(
    given.value.json === true
      ? `${JSON.stringify(result)}\n`
      : `R ${result.R.toFixed(1)}, MOS ${result.mos.toFixed(2)}\n`,
  );
  return 0;
}
