import { trunksFor } from '../../core/calls/dialling';
import type { E164 } from '../../core/estate';
import type { CallHost } from './types';

/** The trunk that carries a number: the first of its class with a channel free, else the first; null: none does. */
export function trunkOf({ index, channels, options }: CallHost, number: E164): string | null {
  const numberClass = index.classOf(number);
  if (numberClass === 'bad-number') return null;
  const carrying = trunksFor(index.estate.trunks, numberClass);
  const free = carrying.find(
    ({ id, channels: all }) => (options.world?.trunkUse?.[id] ?? 0) + (channels.get(id) ?? 0) < all,
  );
  return (free ?? carrying[0])?.id ?? null;
}

/**
 * Takes a channel of the first trunk that carries a number and has more free than are kept.
 * @returns what gives it back, once; null: there is none
 */
export function takeChannel(
  { index, channels, options }: CallHost,
  number: E164,
  keepFree = 0,
): (() => void) | null {
  const numberClass = index.classOf(number);
  if (numberClass === 'bad-number') return null;
  const free = trunksFor(index.estate.trunks, numberClass).find(
    ({ id, channels: all }) =>
      (options.world?.trunkUse?.[id] ?? 0) + (channels.get(id) ?? 0) < all - keepFree,
  );
  if (!free) return null;
  channels.set(free.id, (channels.get(free.id) ?? 0) + 1);
  let isTaken = true;
  return () => {
    if (isTaken) channels.set(free.id, (channels.get(free.id) ?? 1) - 1);
    isTaken = false;
  };
}
