import { erlangB, queueOf } from '../core/statistics';
import { fail, options } from './io';

/** The numbers of the command, each with its least and most value. */
const NUMBERS: Readonly<
  Record<string, { readonly least: number; readonly most: number; readonly whole?: true }>
> = {
  calls: { least: 0, most: 10_000_000 },
  handle: { least: 0.001, most: 86_400 },
  seats: { least: 1, most: 10_000, whole: true },
  trunk: { least: 0, most: 10_000, whole: true },
  within: { least: 0, most: 86_400 },
  patience: { least: 0.001, most: 1_000_000_000 },
};

/**
 * `seats --calls PER_HOUR --handle S (--seats N [--within S] [--patience S] | --trunk N) [--json]`: how long callers wait
 * (Erlang C; with a patience Erlang A), or how many find a trunk full (Erlang B).
 */
export async function seats(args: string[]): Promise<number> {
  const string = { type: 'string' } as const;
  const given = options(args, {
    ...Object.fromEntries(Object.keys(NUMBERS).map((name) => [name, string])),
    json: { type: 'boolean' },
  });
  if (!given.ok) return fail(given.message);
  const texts = given.value as Record<string, string | undefined>;
  const wrong: string[] = [];
  const numbers: Record<string, number | undefined> = {};
  for (const [name, { least, most, whole }] of Object.entries(NUMBERS)) {
    const text = texts[name];
    if (text === undefined) continue;
    const value = (whole ? /^\d+$/ : /^\d+(\.\d+)?$/).test(text) ? Number(text) : NaN;
    if (value >= least && value <= most) numbers[name] = value;
    else wrong.push(`--${name}: must be a ${whole ? 'whole ' : ''}number from ${least} to ${most}`);
  }
  for (const name of ['calls', 'handle']) if (texts[name] === undefined) wrong.push(`--${name}: is missing`);
  if ((texts.seats === undefined) === (texts.trunk === undefined))
    wrong.push('one of --seats and --trunk is needed');
  const { calls, handle, seats: servers, trunk, within, patience } = numbers;
  if (wrong.length > 0 || calls === undefined || handle === undefined) return fail(wrong.join('\n'));
  const print = (value: object, words: () => string) => {
    process.stdout.write(given.value.json === true ? `${JSON.stringify(value)}\n` : `${words()}\n`);
    return 0;
  };
  const percent = (share: number) => `${(share * 100).toFixed(2)} %`;
  const offered = (calls * handle) / 3600;
  if (trunk !== undefined) {
    const blocked = erlangB(trunk, offered);
    return print(
      { offered, blocked },
      () => `${offered.toFixed(2)} Erlangs: ${percent(blocked)} find the trunk full`,
    );
  }
  if (servers === undefined) return fail('--seats: is missing');
  const answer = queueOf({
    callsPerHour: calls,
    handleS: handle,
    servers,
    ...(within === undefined ? {} : { withinS: within }),
    ...(patience === undefined ? {} : { patienceS: patience }),
  });
  return print(answer, () =>
    [
      `${offered.toFixed(2)} Erlangs for ${servers} seats, each busy ${percent(answer.occupancy)} of the time`,
      `${percent(answer.waitProbability)} wait; on average ${answer.meanWaitS === null ? 'without end' : `${answer.meanWaitS.toFixed(1)} s`}`,
      `${percent(answer.within)} are answered within ${within ?? 20} s`,
      ...(patience === undefined ? [] : [`${percent(answer.abandoned)} give up`]),
    ].join('\n'),
  );
}
