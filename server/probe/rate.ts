/** Counts how often each subject did something within a while. @returns whether it may once more; if so it is counted */
export function rateLimitOf(most: number, windowMs: number): (subject: string, nowMs: number) => boolean {
  const seen = new Map<string, readonly number[]>();
  return (subject, nowMs) => {
    const recent = (seen.get(subject) ?? []).filter((at) => nowMs - at < windowMs);
    if (recent.length >= most) return false;
    seen.set(subject, [...recent, nowMs]);
    return true;
  };
}
