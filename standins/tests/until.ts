/** Looks again and again until something is so, for a bounded while. @returns what was found */
export async function until<T>(look: () => T | undefined | false, waitMs = 15_000): Promise<T> {
  for (const end = Date.now() + waitMs; Date.now() < end;) {
    const found = look();
    if (found !== undefined && found !== false) return found;
    await new Promise((resolve) => setImmediate(resolve));
  }
  throw new Error('it does not come to be so');
}
