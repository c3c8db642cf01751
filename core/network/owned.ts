import type { Protocol, Socket } from '../estate';

/** What a box remembers of a socket inside. */
interface Remembered {
  readonly proto: Protocol;
  readonly inside: Socket;
  readonly key: string;
}

/** What a box remembers, by whose it is: there may be thousands, of which one is asked for. */
export interface Owned<M> {
  readonly seen: M[];
  readonly by: Map<string, M[]>;
  /** None of them was used last before this, s; null: not looked at. */
  oldest: number | null;
}

const owned = new WeakMap<readonly Remembered[], Owned<Remembered>>();

export const ownerKey = (proto: Protocol, { address, port }: Socket, key: string): string =>
  `${proto}${address}:${port} ${key}`;
const ownerOf = ({ proto, inside, key }: Remembered) => ownerKey(proto, inside, key);

/**
 * What a box remembers by whose it is, brought up to date with the list: but for `forgetIn` only its end changes, where
 * more is remembered and what was tried is taken back.
 */
export function ownedIn<M extends Remembered>(memories: readonly M[]): Owned<M> {
  let known = owned.get(memories) as Owned<M> | undefined;
  if (!known) {
    known = { seen: [], by: new Map(), oldest: null };
    owned.set(memories, known as unknown as Owned<Remembered>);
  }
  const { seen, by } = known;
  for (
    let last = seen.at(-1);
    last && (seen.length > memories.length || memories[seen.length - 1] !== last);
    last = seen.at(-1)
  ) {
    by.get(ownerOf(last))?.pop();
    seen.pop();
  }
  for (let each = memories[seen.length]; each; each = memories[seen.length]) {
    const all = by.get(ownerOf(each));
    if (all) all.push(each);
    else by.set(ownerOf(each), [each]);
    seen.push(each);
  }
  return known;
}

/**
 * Takes out of a list whatever is gone, in its place: of thousands a few run out at a time, and to look up the others
 * anew would take longer than all the rest.
 */
export function forgetIn<M extends Remembered>(memories: M[], isGone: (each: M) => boolean): void {
  const { seen, by } = ownedIn(memories);
  let kept = 0;
  for (const each of memories) {
    if (!isGone(each)) {
      memories[kept] = each;
      seen[kept] = each;
      kept += 1;
      continue;
    }
    const owner = ownerOf(each);
    const left = (by.get(owner) ?? []).filter((other) => other !== each);
    if (left.length > 0) by.set(owner, left);
    else by.delete(owner);
  }
  memories.length = kept;
  seen.length = kept;
}
