/** A moment: whoever looks again and again at once keeps busy what is waited for. */
export const soon = () => new Promise<void>((resolve) => setTimeout(resolve, 5));

/** Looks again and again until something is so, for a bounded while. @returns what was found */
export async function until<T>(look: () => T | undefined | false, waitMs = 15_000): Promise<T> {
  for (const end = Date.now() + waitMs; Date.now() < end;) {
    const found = look();
    if (found !== undefined && found !== false) return found;
    await soon();
  }
  throw new Error('it does not come to be so');
}
