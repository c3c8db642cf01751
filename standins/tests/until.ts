/** A moment: whoever looks again and again at once keeps busy what is waited for. */
export const soon = (ms = 5) => new Promise<void>((resolve) => setTimeout(resolve, ms));

type NotYet = undefined | null | false;

/** Looks again and again until something is so, for a bounded while. @returns what was found */
export async function until<T>(
  look: () => T | NotYet | Promise<T | NotYet>,
  waitMs = 20_000,
  everyMs?: number,
): Promise<T> {
  for (const end = Date.now() + waitMs; Date.now() < end;) {
    const found = await look();
    if (found !== undefined && found !== null && found !== false) return found;
    await soon(everyMs);
  }
  throw new Error('it does not come to be so');
}
