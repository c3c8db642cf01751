/**
 * Works something out once for each object, and keeps it for as long as the object is there: what an estate is made of
 * is never changed in place.
 */
export function onceFor<K extends object, V>(make: (of: K) => V): (of: K) => V {
  const known = new WeakMap<K, { readonly made: V }>();
  return (of) => {
    const before = known.get(of);
    if (before) return before.made;
    const made = make(of);
    known.set(of, { made });
    return made;
  };
}
