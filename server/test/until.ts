import { soon } from '../../standins/tests/until';

const WAIT_MS = 20_000;

/** Looks again and again until something is there, for a bounded while. @returns what was found */
export async function until<T>(look: () => T | null | Promise<T | null>, waitMs = WAIT_MS): Promise<T> {
  for (const end = Date.now() + waitMs; Date.now() < end;) {
    const found = await look();
    if (found !== null) return found;
    await soon();
  }
  throw new Error('it does not come to be so');
}
