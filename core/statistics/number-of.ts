/**
 * A number that is the same for the same text, and looks like any other: FNV-1a, 32 bit.
 * @returns 0 to 2^32 - 1
 */
export function numberOf(text: string): number {
  let hash = 0x811c9dc5;
  for (let i = 0; i < text.length; i += 1) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return hash >>> 0;
}
