import type { E164, NumberClass, Permission, Trunk } from '../../estate';
import type { Classified } from './classes';

/** Whether a permission lets this number be called: deny beats allow, both beat the class. */
export function permits(permission: Permission, e164: E164, numberClass: NumberClass): boolean {
  if (permission.denyPrefixes?.some((prefix) => e164.startsWith(prefix))) return false;
  if (permission.allowPrefixes?.some((prefix) => e164.startsWith(prefix))) return true;
  return permission.allow.includes(numberClass);
}

/** The trunks that carry a class, in the order in which they are tried. */
export const trunksFor = (trunks: readonly Trunk[], numberClass: NumberClass): readonly Trunk[] =>
  trunks.filter((trunk) => trunk.carries.includes(numberClass));

/** Why a number cannot be dialled out, in the order in which it is found. */
export type NoWayOut = 'bad-number' | 'not-permitted' | 'no-route' | 'no-channel';
export const NO_WAY_OUT: Readonly<Record<NoWayOut, string>> = {
  'bad-number': 'the number is none that can be called',
  'not-permitted': 'the permission does not allow this number',
  'no-route': 'no trunk carries this class of number',
  'no-channel': 'every channel of the trunks that carry it is taken',
};

/**
 * The trunk by which a number is dialled out, or why there is none.
 * @param hasChannel whether a trunk has a channel free
 */
export function wayOut(
  permission: Permission | undefined,
  e164: E164,
  numberClass: Classified,
  trunks: readonly Trunk[],
  hasChannel: (trunk: Trunk) => boolean,
): { readonly trunk: Trunk } | { readonly reason: NoWayOut } {
  if (numberClass === 'bad-number') return { reason: 'bad-number' };
  if (!permission || !permits(permission, e164, numberClass)) return { reason: 'not-permitted' };
  const carrying = trunksFor(trunks, numberClass);
  if (carrying.length === 0) return { reason: 'no-route' };
  const trunk = carrying.find(hasChannel);
  return trunk ? { trunk } : { reason: 'no-channel' };
}
