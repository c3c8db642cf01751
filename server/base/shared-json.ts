/** A value as JSON in memory that threads share, so that no thread is sent a copy of its own. */
export function sharedJson(value: unknown): SharedArrayBuffer {
  const bytes = new TextEncoder().encode(JSON.stringify(value));
  const shared = new SharedArrayBuffer(bytes.byteLength);
  new Uint8Array(shared).set(bytes);
  return shared;
}

/** Reads what `sharedJson` has written. */
export const readShared = <T>(shared: SharedArrayBuffer): T =>
  JSON.parse(new TextDecoder().decode(new Uint8Array(shared).slice())) as T;
