import { audit as auditAll, checkContext, sarifLog, WEIGHTS } from '../core/assurance/checks';
import { instantOf } from '../core/calls/time';
import { fail, options, readEstateFile } from './io';

/** `audit --estate FILE [--at TIME] [--json | --sarif]`: every finding; exit code 1 if one is a fault. */
export async function audit(args: string[]): Promise<number> {
  const given = options(args, {
    estate: { type: 'string' },
    at: { type: 'string' },
    json: { type: 'boolean' },
    sarif: { type: 'boolean' },
  });
  if (!given.ok) return fail(given.message);
  const { estate: file, at, json, sarif } = given.value;
  if (typeof file !== 'string') return fail('--estate FILE is needed');
  if (json && sarif) return fail('only one of --json and --sarif can be given');
  const nowMs = typeof at === 'string' ? instantOf(at) : Date.now();
  if (nowMs === null)
    return fail(`--at: "${String(at)}" is no time with its offset, like 2026-11-24T14:00:00-07:00`);
  const read = readEstateFile(file);
  if (!read.ok) return fail(read.message);
  const findings = auditAll(checkContext(read.value, nowMs));
  if (sarif) process.stdout.write(`${JSON.stringify(sarifLog(findings))}\n`);
  else if (json) process.stdout.write(`${JSON.stringify(findings)}\n`);
  else {
    for (const { weight, check, subject, says } of findings)
      process.stdout.write(`${weight.padEnd(5)}  ${subject.name}: ${says} [${check}]\n`);
    const counts = WEIGHTS.map((weight) => findings.filter((each) => each.weight === weight).length);
    process.stdout.write(`${counts[0]} faults, ${counts[1]} risks, ${counts[2]} notes\n`);
  }
  return findings.some(({ weight }) => weight === 'fault') ? 1 : 0;
}
