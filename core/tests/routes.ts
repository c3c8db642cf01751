import type { Rewrite, Route } from '../estate';

/** A route with its id as its name, for tables of tests. */
export const routeOf = (
  id: string,
  then: Route['then'],
  when: Route['when'] = {},
  enabled = true,
): Route => ({ id, name: id, enabled, when, then });
export const sendTo = (peer: string, rewrite?: Rewrite, orElse?: readonly string[]): Route['then'] => ({
  send: { peer, ...(rewrite ? { rewrite } : {}), ...(orElse ? { orElse } : {}) },
});
