/** Sources that are counted by name at most; beyond them only those known already are. */
const MOST_SOURCES = 10_000;

/** How often each source did something within the running while: says how often, this time included. */
export function countedBySource(whileMs: number, now: () => number): (source: string) => number {
  let from = now();
  let counts = new Map<string, number>();
  return (source) => {
    if (now() - from > whileMs) {
      from = now();
      counts = new Map();
    }
    const count = (counts.get(source) ?? 0) + 1;
    if (counts.size < MOST_SOURCES || counts.has(source)) counts.set(source, count);
    return count;
  };
}
