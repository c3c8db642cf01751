import { type Endpoint, type EndpointKind, type Ms, type Person, endpointTimes } from '../../estate';
import type { EndpointBehaviour } from '../../calls/engine';

/**
 * What a phone takes up only when it restarts: the extensions that it registers with and, of an app, how it wakes. An
 * endpoint of the public network takes up nothing from here.
 */
export interface RunSettings {
  readonly kind: EndpointKind;
  readonly extensions: readonly string[];
  readonly wakes: boolean;
  readonly wakeMs: Ms;
}

const RESTARTS: readonly EndpointKind[] = ['desk', 'remote-desk', 'hot-desk', 'desktop-app', 'mobile-app'];

/** What an endpoint should run; null for one that takes up nothing from here. */
export function shouldRun(person: Person, endpoint: Endpoint): RunSettings | null {
  if (!RESTARTS.includes(endpoint.kind)) return null;
  const { wakes, wakeMs } = endpointTimes(endpoint);
  return { kind: endpoint.kind, extensions: person.lines.map(({ extension }) => extension), wakes, wakeMs };
}

const same = (a: RunSettings | null, b: RunSettings | null) => JSON.stringify(a) === JSON.stringify(b);

/** What a phone runs where that is another than it should; `running` null: it was never set up. */
export interface Behind {
  readonly endpoint: string;
  readonly running: RunSettings | null;
}

/**
 * The phones that a change of a person leaves behind, with what they run on; and those that need no restart any more.
 * @param known what is known of phones that were behind before
 */
export function leftBehind(
  before: Person | null,
  after: Person | null,
  known: ReadonlyMap<string, RunSettings | null>,
): { readonly behind: readonly Behind[]; readonly settled: readonly string[] } {
  const behind: Behind[] = [];
  const settled: string[] = [];
  const was = new Map(before?.endpoints.map((each) => [each.id, each]));
  for (const endpoint of after?.endpoints ?? []) {
    const should = shouldRun(after!, endpoint);
    const old = was.get(endpoint.id);
    const running = known.has(endpoint.id)
      ? (known.get(endpoint.id) ?? null)
      : old && before
        ? shouldRun(before, old)
        : null;
    if (should === null || same(should, running)) settled.push(endpoint.id);
    else if (!known.has(endpoint.id)) behind.push({ endpoint: endpoint.id, running });
  }
  const there = new Set(after?.endpoints.map(({ id }) => id));
  settled.push(...[...was.keys()].filter((id) => !there.has(id)));
  return { behind, settled };
}

/** What is different between what a phone runs and what it should, in words. */
export function sayBehind(running: RunSettings | null, should: RunSettings): string {
  if (!running) return 'not set up yet: it is not registered until its first start';
  const parts = [
    running.extensions.join() === should.extensions.join()
      ? ''
      : `registers as ${running.extensions.join(', ') || 'nobody'} until restarted, then as ${should.extensions.join(', ') || 'nobody'}`,
    running.wakes === should.wakes
      ? ''
      : should.wakes
        ? 'is not woken until restarted'
        : 'is woken until restarted',
    running.wakeMs === should.wakeMs
      ? ''
      : `wakes in ${running.wakeMs / 1000} s, then in ${should.wakeMs / 1000} s`,
    running.kind === should.kind ? '' : 'runs as another kind of phone',
  ];
  return parts.filter(Boolean).join('; ');
}

/**
 * How phones that are behind behave in a call to a line: one that does not register with that line's extension is not
 * registered for it.
 * @param extension of the line that is called
 */
export function asRun(
  behind: readonly Behind[],
  owner: (endpoint: string) => Person | undefined,
  extension: string,
): Readonly<Record<string, EndpointBehaviour>> {
  return Object.fromEntries(
    behind.flatMap(({ endpoint, running }): [string, EndpointBehaviour][] => {
      const person = owner(endpoint);
      if (!person) return [];
      // A colleague's phone is rung by its own line, whichever line was called.
      const called = person.lines.some((line) => line.extension === extension)
        ? [extension]
        : person.lines.map((line) => line.extension);
      if (!running || !called.some((each) => running.extensions.includes(each)))
        return [[endpoint, { state: 'unregistered' }]];
      return [];
    }),
  );
}
