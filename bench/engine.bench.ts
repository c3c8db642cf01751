import { finderOf, sliceFor } from '../core/editing';
import type { Estate, Person, Stage, ReachPromise } from '../core/estate';
import { provePromises } from '../core/assurance/promises';
import { CIRCUMSTANCES, weekMap } from '../core/calls/views';
import { compileEstate, runCall } from '../core/calls/engine';
import { quickRunner } from '../core/calls/outcome';
import { instantOf } from '../core/calls/time';
import { skerrowSoundFerries } from '../demo/skerrow';

export type Line = (what: string, figure: string, aim?: string) => void;

const AT = '2026-11-24T10:00:00-08:00';
const FROM = '+16045550199';
const perSecond = (n: number) => `${Math.round(n).toLocaleString('en')}/s`;
const ms = (value: number) => `${value < 10 ? value.toFixed(1) : Math.round(value)} ms`;

/** How often work is done in a second; at least half a second and at most 2 million rounds. */
function rate(work: () => void, each = 1): number {
  for (let i = 0; i < 2000; i += 1) work();
  const began = performance.now();
  let rounds = 0;
  while (performance.now() - began < 700 && rounds < 2_000_000) {
    for (let i = 0; i < 200; i += 1) work();
    rounds += 200;
  }
  return (rounds * each * 1000) / (performance.now() - began);
}
function median(work: () => void, times = 9): number {
  const took = Array.from({ length: times }, () => {
    const began = performance.now();
    work();
    return performance.now() - began;
  });
  return took.sort((a, b) => a - b)[times >> 1]!;
}

/** Somebody with one treatment that rings `targets` phones in three stages. */
function withTargets(targets: number): { estate: Estate; person: Person; endpoints: readonly string[] } {
  const demo = skerrowSoundFerries();
  const person = demo.people.find(({ id }) => id === 'tomasz')!;
  const phones = demo.people
    .flatMap((each) => each.endpoints)
    .filter(({ kind }) => kind === 'mobile' || kind === 'desk')
    .slice(0, targets);
  const share = Math.ceil(targets / 3);
  const stages: Stage[] = [0, 1, 2].map((i) => ({
    forMs: 15_000,
    ring: phones.slice(i * share, (i + 1) * share).map((endpoint) => ({
      endpoint: endpoint.id,
      ...(endpoint.number ? { acceptAfterMs: 2300, giveUpAfterMs: 14_000 } : {}),
    })),
  }));
  const changed = {
    ...person,
    plan: { rules: [], otherwise: { stages, ending: { kind: 'mailbox' as const } } },
  };
  return {
    estate: { ...demo, people: demo.people.map((each) => (each === person ? changed : each)) },
    person: changed,
    endpoints: phones.map(({ id }) => id),
  };
}

function outcomes(line: Line): void {
  const draw = (targets: number) => () => {
    let sum = 0;
    for (let i = 0; i < targets; i += 1) sum += Math.random() - Math.log(Math.random() || 1);
    if (sum === Infinity) throw new Error('never');
  };
  const numbers = rate(draw(6));
  line('random numbers for a call of six targets', perSecond(numbers));
  const rates = new Map<number, number>();
  for (const targets of [3, 6, 12, 24]) {
    const { estate, person, endpoints } = withTargets(targets);
    const runner = quickRunner(compileEstate(estate));
    const slots = endpoints.map((id) => runner.estate.slotOf.get(id)!);
    const extension = person.lines[0]!.extension;
    const at = instantOf(AT)!;
    let n = 0;
    const found = rate(() => {
      n += 1;
      runner.world.answerAfterMs[slots[n % targets]!] = n % 3 ? Infinity : 4000 + (n % 9000);
      runner.run(FROM, extension, at);
    });
    rates.set(targets, found);
  }
  const six = rates.get(6)!;
  line(
    'outcome only, three stages, six targets',
    perSecond(six),
    `${(six / numbers).toFixed(2)} of the random numbers (aim 0.1)`,
  );
  for (const targets of [3, 12, 24])
    line(
      `  with ${targets} targets`,
      perSecond(rates.get(targets)!),
      `${(six / rates.get(targets)!).toFixed(2)} times the cost of six (linear: ${(targets / 6).toFixed(2)})`,
    );
  const { estate, person } = withTargets(6);
  const index = compileEstate(estate);
  const call = { from: FROM, to: person.lines[0]!.extension, at: AT };
  const traced = rate(() => runCall(index, call));
  line(
    'full trace of the same',
    perSecond(traced),
    `${(traced / numbers).toFixed(3)} of the random numbers (aim 0.01)`,
  );
}

const PROMISES: readonly ReachPromise[] = [
  { kind: 'own-mailbox', withinMs: 45_000 },
  { kind: 'no-carrier-voicemail' },
  { kind: 'no-cut-off', withinMs: 1000 },
  { kind: 'rings-within', withinMs: 6000 },
  { kind: 'no-silence', longestMs: 8000 },
  { kind: 'wait-at-most', longestMs: 60_000 },
  { kind: 'one-lost' },
  { kind: 'may-dial' },
  { kind: 'no-loop' },
  { kind: 'no-leaver', status: 'left' },
  { kind: 'no-stranger', allowed: [] },
];

function proofs(line: Line): void {
  const estate = skerrowSoundFerries();
  const finder = finderOf(estate);
  const fromMs = instantOf(AT)!;
  const scope = { spread: 0, fromMs, everyStatus: false };
  // Once before the engine is compiled, and once after.
  for (const turn of ['the first time', 'from then on']) {
    const took = estate.people.map((person) => {
      const slice = sliceFor(estate, finder, person.id);
      const began = performance.now();
      const { complete } = provePromises(slice, person.id, PROMISES, scope);
      return { ms: performance.now() - began, complete };
    });
    const sorted = took.map((each) => each.ms).sort((a, b) => a - b);
    const under = took.filter((each) => each.ms < 200).length;
    line(`all eleven promises of one person, ${turn}: median of 120`, ms(sorted[60]!), 'aim: under 200 ms');
    line(
      '  under 200 ms, and the slowest',
      `${under} of 120`,
      `${ms(sorted.at(-1)!)}; ${took.filter((each) => !each.complete).length} have more cases than are gone through`,
    );
  }
  const slice = sliceFor(estate, finder, 'ines');
  const index = compileEstate(slice);
  const runner = quickRunner(index);
  const ines = index.people.get('ines')!;
  const week = () => {
    for (const circumstance of CIRCUMSTANCES) weekMap(index, [ines], circumstance, fromMs, runner);
  };
  week();
  line('week map of one person, four circumstances (median of 9)', ms(median(week)), 'aim: under 30 ms');
}

/** How what the whole estate costs grows with its people. */
function growth(line: Line): void {
  const demo = skerrowSoundFerries();
  const model = demo.people.filter(({ id }) => id.includes('-'));
  for (const count of [100, 1000, 10_000]) {
    const people = Array.from({ length: count }, (_, i): Person => {
      const text = JSON.stringify(model[i % model.length]);
      const own = model[i % model.length]!.id;
      return JSON.parse(
        text
          .replaceAll(`"${own}`, `"p${i}-${own}`)
          .replace(/"extension":"\d+"/, `"extension":"${10_000 + i}"`)
          .replace(/"id":"l-\d+"/, `"id":"l-${i}"`),
      ) as Person;
    });
    const estate: Estate = {
      ...demo,
      people: [...demo.people.filter(({ id }) => !id.includes('-')), ...people],
    };
    const compiled = median(() => compileEstate(estate), 3);
    const index = compileEstate(estate);
    const runner = quickRunner(index);
    const at = instantOf(AT)!;
    const all = median(() => {
      for (const person of people) runner.run(FROM, person.lines[0]!.extension, at);
    }, 5);
    line(`${count} people: estate made ready`, ms(compiled));
    line('  a call to each', ms(all), `${((all * 1000) / count).toFixed(1)} µs a person`);
  }
}

/** The engine's figures, each as measured in this run. */
export function engineBench(line: Line): void {
  outcomes(line);
  proofs(line);
  growth(line);
}
