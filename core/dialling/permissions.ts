import type { E164, NumberClass, Permission, Trunk } from '../estate';

/** Whether a permission lets this number be called: deny beats allow, both beat the class. */
export function permits(permission: Permission, e164: E164, numberClass: NumberClass): boolean {
  if (permission.denyPrefixes?.some((prefix) => e164.startsWith(prefix))) return false;
  if (permission.allowPrefixes?.some((prefix) => e164.startsWith(prefix))) return true;
  return permission.allow.includes(numberClass);
}

/** The trunks that carry a class, in the order in which they are tried. */
export const trunksFor = (trunks: readonly Trunk[], numberClass: NumberClass): readonly Trunk[] =>
  trunks.filter((trunk) => trunk.carries.includes(numberClass));
