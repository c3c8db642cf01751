/** One part of a body (RFC 2046, section 5.1). */
export interface BodyPart {
  readonly type: string;
  /** Without its angle brackets, by which a `cid:` URL names it (RFC 2392). */
  readonly id?: string;
  readonly body: string;
}

/** Writes several parts as one body of `multipart/mixed`. @param boundary stands in none of the parts */
export const writeMultipart = (
  parts: readonly BodyPart[],
  boundary: string,
): { readonly contentType: string; readonly body: string } => ({
  contentType: `multipart/mixed;boundary=${boundary}`,
  body: `${parts
    .map(
      ({ type, id, body }) =>
        `--${boundary}\r\nContent-Type: ${type}\r\n${id === undefined ? '' : `Content-ID: <${id}>\r\n`}\r\n${body}\r\n`,
    )
    .join('')}--${boundary}--\r\n`,
});

const MOST_PARTS = 10;

/** The parts of a body; of one that is not `multipart/mixed` the body itself; null where it cannot be read. */
export function readMultipart(contentType: string, body: string): readonly BodyPart[] | null {
  if (!/^multipart\/mixed\b/i.test(contentType)) return [{ type: contentType.trim(), body }];
  const boundary = /;\s*boundary="?([^";\s]{1,70})"?/i.exec(contentType)?.[1];
  if (boundary === undefined) return null;
  const cut = `\r\n${body}`.split(`\r\n--${boundary}`);
  const last = cut.findIndex((piece) => piece.startsWith('--'));
  if (last < 1 || last > MOST_PARTS + 1) return null;
  const parts: BodyPart[] = [];
  for (const piece of cut.slice(1, last)) {
    const head = piece.indexOf('\r\n\r\n');
    if (!piece.startsWith('\r\n') || head < 0) return null;
    const headers = piece.slice(0, head);
    const of = (name: string) => new RegExp(`\\r\\n${name}:[ \\t]*([^\\r]*)`, 'i').exec(headers)?.[1]?.trim();
    const id = of('Content-ID')?.replace(/^<|>$/g, '');
    parts.push({
      type: of('Content-Type') ?? 'text/plain',
      ...(id === undefined ? {} : { id }),
      body: piece.slice(head + 4),
    });
  }
  return parts;
}
