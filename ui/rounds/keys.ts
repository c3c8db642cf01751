import type { RoundKey, RoundPlan } from '../../core/rounds';

/** A plan with one more key that plays something. */
export const withKey = (plan: RoundPlan, key: RoundKey): RoundPlan => ({
  ...plan,
  keys: [...(plan.keys ?? []), key],
});
/** A plan without what a key plays; with none left it says nothing of keys. */
export function withoutKey({ keys = [], ...rest }: RoundPlan, key: string): RoundPlan {
  const left = keys.filter((each) => each.key !== key);
  return left.length === 0 ? rest : { ...rest, keys: left };
}
