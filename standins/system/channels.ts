import { trunksFor } from '../../core/calls/dialling';
import type { E164, Trunk } from '../../core/estate';
import type { CallHost } from './types';

const carrying = ({ index }: CallHost, number: E164): readonly Trunk[] => {
  const numberClass = index.classOf(number);
  return numberClass === 'bad-number' ? [] : trunksFor(index.estate.trunks, numberClass);
};
const hasFree =
  ({ channels, options }: CallHost, keepFree = 0) =>
  ({ id, channels: all }: Trunk): boolean =>
    (options.world?.trunkUse?.[id] ?? 0) + (channels.get(id) ?? 0) < all - keepFree;

/** The trunk that carries a number: the first of its class with a channel free, else the first; null: none does. */
export function trunkOf(host: CallHost, number: E164): string | null {
  const trunks = carrying(host, number);
  return (trunks.find(hasFree(host)) ?? trunks[0])?.id ?? null;
}

/**
 * Takes a channel of the first trunk that carries a number and has more free than are kept.
 * @returns what gives it back, once; null: there is none
 */
export function takeChannel(host: CallHost, number: E164, keepFree = 0): (() => void) | null {
  const { channels } = host;
  const free = carrying(host, number).find(hasFree(host, keepFree));
  if (!free) return null;
  channels.set(free.id, (channels.get(free.id) ?? 0) + 1);
  let isTaken = true;
  return () => {
    if (isTaken) channels.set(free.id, (channels.get(free.id) ?? 1) - 1);
    isTaken = false;
  };
}
