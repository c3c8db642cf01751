/** The address of a collector of traces; null: it is none. @param text such as `http://127.0.0.1:4318/v1/traces` */
export function collectorAt(text: string): URL | null {
  const url = URL.canParse(text) ? new URL(text) : null;
  return url && (url.protocol === 'http:' || url.protocol === 'https:') ? url : null;
}
export const NO_COLLECTOR = 'HOSTLER_TRACES_URL is no address such as http://127.0.0.1:4318/v1/traces';

const ASK_MS = 2000;
/** Asks a collector whether it takes traces, with none. @returns why it does not; null: it does */
export async function whyNotCollected(url: URL): Promise<string | null> {
  try {
    const { ok, status } = await fetch(url, {
      method: 'POST',
      headers: { 'Content-Type': 'application/json' },
      body: JSON.stringify({ resourceSpans: [] }),
      signal: AbortSignal.timeout(ASK_MS),
      redirect: 'manual',
    });
    return ok ? null : `${url.host} answers with ${status} and takes no traces`;
  } catch {
    return `nobody answers at ${url.host}: traces are let go of`;
  }
}
