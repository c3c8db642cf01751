/**
 * A map over another that stays as it is: what is put or taken away is kept beside it. A copy of a very long map in
 * which little is otherwise takes no longer than what is otherwise. Keys of the map below stay in their places, new
 * ones follow.
 */
export class LayeredMap<K, V> implements ReadonlyMap<K, V> {
  readonly #below: ReadonlyMap<K, V>;
  readonly #put: Map<K, V>;
  readonly #gone: Set<K>;
  /** How many keys were put that the map below does not have. */
  #added: number;

  private constructor(below: ReadonlyMap<K, V>, put: Map<K, V>, gone: Set<K>, added: number) {
    [this.#below, this.#put, this.#gone, this.#added] = [below, put, gone, added];
  }

  /** A copy of a map to be changed; of one with much beside it all is put together again. */
  static over<K, V>(map: ReadonlyMap<K, V>): LayeredMap<K, V> {
    if (!(map instanceof LayeredMap)) return new LayeredMap(map, new Map<K, V>(), new Set<K>(), 0);
    const all = map as LayeredMap<K, V>;
    return all.#put.size + all.#gone.size > Math.max(MOST_BESIDE, all.#below.size >> 4)
      ? new LayeredMap(new Map(all), new Map<K, V>(), new Set<K>(), 0)
      : new LayeredMap(all.#below, new Map(all.#put), new Set(all.#gone), all.#added);
  }

  get size(): number {
    return this.#below.size - this.#gone.size + this.#added;
  }
  get(key: K): V | undefined {
    if (this.#put.size > 0) {
      const value = this.#put.get(key);
      if (value !== undefined || this.#put.has(key)) return value;
    }
    return this.#gone.size > 0 && this.#gone.has(key) ? undefined : this.#below.get(key);
  }
  has(key: K): boolean {
    return this.#put.has(key) || (this.#below.has(key) && !this.#gone.has(key));
  }
  set(key: K, value: V): this {
    if (!this.#put.has(key) && !this.#below.has(key)) this.#added += 1;
    this.#gone.delete(key);
    this.#put.set(key, value);
    return this;
  }
  delete(key: K): boolean {
    const was = this.has(key);
    if (this.#put.delete(key) && !this.#below.has(key)) this.#added -= 1;
    if (this.#below.has(key)) this.#gone.add(key);
    return was;
  }

  *entries(): MapIterator<[K, V]> {
    for (const [key, value] of this.#below)
      if (!this.#gone.has(key)) yield [key, this.#put.has(key) ? this.#put.get(key)! : value];
    for (const entry of this.#put) if (!this.#below.has(entry[0])) yield entry;
  }
  *keys(): MapIterator<K> {
    for (const [key] of this.entries()) yield key;
  }
  *values(): MapIterator<V> {
    for (const [, value] of this.entries()) yield value;
  }
  forEach(act: (value: V, key: K, map: ReadonlyMap<K, V>) => void): void {
    for (const [key, value] of this.entries()) act(value, key, this);
  }
  [Symbol.iterator](): MapIterator<[K, V]> {
    return this.entries();
  }
}
const MOST_BESIDE = 500;
