import { audit, auditorOf, checkContext } from '../core/assurance/checks';
import type { Estate, Person, Treatment } from '../core/estate';
import { applyEntries, type SlateEntry } from '../core/changes/slate';
import { skerrowSoundFerries } from '../demo/skerrow';
import { closePools } from '../server/base';
import { impactOf } from '../server/slates';
import type { Line } from './engine.bench';

const FROM = Date.parse('2026-11-25T18:00:00Z');
const PEOPLE = 5000;
const MANY = 50_000;
const AGAIN = 15;

/** The demo estate with so many people: copies of those who follow a template, each with ids and numbers of their own. */
export function estateOf(people: number): Estate {
  const demo = skerrowSoundFerries();
  const crew = demo.people.filter(({ template }) => template !== undefined);
  const copies = Array.from({ length: Math.max(0, people - demo.people.length) }, (_, i): Person => {
    const from = crew[i % crew.length]!;
    const own = [from.id, ...from.endpoints.map(({ id }) => id), ...from.lines.map(({ id }) => id)];
    const renamed = own.reduce(
      (text, id) => text.replaceAll(`"${id}"`, `"${id}.${i}"`),
      JSON.stringify(from),
    );
    const copy = JSON.parse(renamed) as Person;
    return {
      ...copy,
      name: `${copy.name} ${i}`,
      lines: copy.lines.map((line) => ({ ...line, extension: `7${100_000 + i}`, numbers: [] })),
      endpoints: copy.endpoints.map((each) =>
        each.number === undefined ? each : { ...each, number: `+1778${String(5_000_000 + i)}` },
      ),
    };
  });
  return { ...demo, people: [...demo.people, ...copies] };
}

/** Every stage rings five seconds longer, as a template change brings it to all. */
function longer(person: Person): Person {
  const lengthened = <T extends Treatment>(treatment: T): T => ({
    ...treatment,
    stages: treatment.stages.map((stage) =>
      'ring' in stage ? { ...stage, forMs: stage.forMs + 5000 } : stage,
    ),
  });
  const { rules, otherwise } = person.plan;
  return { ...person, plan: { rules: rules.map(lengthened), otherwise: lengthened(otherwise) } };
}
const entryOf = (person: Person): SlateEntry => ({
  kind: 'person',
  id: person.id,
  name: person.name,
  base: person,
  after: longer(person),
});

const seconds = (ms: number) => `${(ms / 1000).toFixed(2)} s`;
const took = (work: () => unknown): number => {
  const began = performance.now();
  work();
  return performance.now() - began;
};
const median = (values: readonly number[]) => [...values].sort((a, b) => a - b)[values.length >> 1]!;

/** Impact, findings and audit, for 5,000 people and how each grows to 50,000. */
export async function changesBench(line: Line): Promise<void> {
  const impact = async (estate: Estate) => {
    const entries = estate.people.map(entryOf);
    const began = performance.now();
    const changes = await impactOf({ estate }, entries, FROM, `${estate.people.length}`);
    return { ms: performance.now() - began, changes: changes.length };
  };
  const estate = estateOf(PEOPLE);
  const many = estateOf(MANY);
  const first = await impact(estate);
  line(
    `impact of a template change over ${PEOPLE} people`,
    seconds(first.ms),
    `${first.changes} changes; aim: under 10 s`,
  );
  const grown = await impact(many);
  line(`  over ${MANY}`, seconds(grown.ms), `${(grown.ms / first.ms).toFixed(1)} times`);
  await closePools();

  let findings = audit(checkContext(estate, FROM));
  const whole = took(() => {
    findings = audit(checkContext(estate, FROM));
  });
  line(`audit of ${PEOPLE} people`, seconds(whole), `${findings.length} findings; aim: under 5 s`);
  const all = took(() => audit(checkContext(many, FROM)));
  line(`  of ${MANY}`, seconds(all), `${(all / whole).toFixed(1)} times`);

  const again = (from: Estate) => {
    const auditor = auditorOf(from, FROM);
    return median(
      Array.from({ length: AGAIN }, (_, i) => {
        const after = applyEntries(from, [entryOf(from.people[(i * 331) % from.people.length]!)]);
        return took(() => auditor.change(after));
      }),
    );
  };
  const one = again(estate);
  line(`findings after a change to one of ${PEOPLE}`, `${Math.round(one)} ms`, 'aim: under 200 ms');
  const oneOfMany = again(many);
  line(`  to one of ${MANY}`, `${Math.round(oneOfMany)} ms`, `${(oneOfMany / one).toFixed(1)} times`);
}
