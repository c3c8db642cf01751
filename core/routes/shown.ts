import { compareWords } from './automaton';
import type { ExampleCall, RouteFinding } from './findings';
import type { Prepared } from './prepare';
import { originOf, type Origin, type Stream } from './sweep';
import type { Rewrite, Route } from './types';

/** A number in a stream, with one circumstance, that shows something. */
export interface Shown {
  readonly stream: Stream;
  readonly number: string;
  readonly place: number;
}
const isRaw = ({ stream }: Shown) => stream.sources.length === 0;
/** Numbers as they were dialled go before those that a route rewrote. */
export const isSmaller = (a: Shown, b: Shown): boolean =>
  isRaw(a) === isRaw(b) ? compareWords(a.number, b.number) < 0 : isRaw(a);
/** Keeps the smallest that shows something. */
export function keep<K>(map: Map<K, Shown>, key: K, shown: Shown): void {
  const known = map.get(key);
  if (!known || isSmaller(shown, known)) map.set(key, shown);
}

/** The call as it is placed that leads to something shown. */
export function callOf(
  { table, standings }: Prepared,
  { stream, number, place }: Shown,
): { readonly call: ExampleCall; readonly origin: Origin } {
  const origin = originOf(stream, number, place);
  const { atMs } = standings[origin.time]!;
  return {
    origin,
    call: {
      from: table.peers[origin.peer]?.id ?? '',
      dialled: origin.dialled,
      ...(origin.caller === null ? {} : { caller: origin.caller }),
      ...(atMs === null || standings.length === 1 ? {} : { atMs }),
    },
  };
}

/** What is shown, as the example of a finding. */
export function exampleOf(
  prepared: Prepared,
  shown: Shown,
): Pick<RouteFinding, 'call' | 'met'> & { readonly example: string } {
  const { call } = callOf(prepared, shown);
  return { example: call.dialled, call, ...(call.dialled === shown.number ? {} : { met: shown.number }) };
}

/** One way in which a route sends a call: to a peer of its own, or of a branch. */
export interface Sending {
  readonly peer: string;
  readonly rewrite: Rewrite | undefined;
  readonly branch?: number;
}
export const sendingsOf = ({ then }: Route): readonly Sending[] =>
  'send' in then
    ? [then.send.peer, ...(then.send.orElse ?? [])].map((peer) => ({ peer, rewrite: then.send.rewrite }))
    : 'fork' in then
      ? then.fork.branches.map(({ peer, rewrite }, branch) => ({ peer, rewrite, branch }))
      : [];

export const nameOf = (all: readonly { readonly id: string; readonly name: string }[], id: string): string =>
  all.find((each) => each.id === id)?.name ?? id;
export const namesOf = (all: readonly { readonly name: string }[]): string =>
  all.length > 3
    ? `${all
        .slice(0, 2)
        .map(({ name }) => name)
        .join(', ')} and ${all.length - 2} others`
    : all.map(({ name }) => name).join(', ');
