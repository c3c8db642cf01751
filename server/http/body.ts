import express, { type Request, type Response } from 'express';
import { refusal } from '../base';
import type { OpenRoute, Route } from './routes';

/** Sizes of bodies, in bytes: before anybody is known, of staff on their own page, of the others, and at most. */
export const BODY_LIMITS = {
  open: 4096,
  own: 16_384,
  usual: 262_144,
  long: 8 << 20,
  file: 16 << 20,
} as const;
/** Values and names in a JSON body, at most: each is looked at, and checking costs more than reading. */
const MOST_PARTS = { everybody: 4000, specialist: 20_000, long: 400_000 } as const;
const DEEPEST = 100;

const limitOf = (route: Route | OpenRoute): number => {
  if (route.limit !== undefined) return route.limit;
  if (route.rawBody) return BODY_LIMITS.file;
  if (route.roles === 'everybody') return BODY_LIMITS.open;
  if (route.isLong) return BODY_LIMITS.long;
  return route.roles.every((role) => role === 'staff') ? BODY_LIMITS.own : BODY_LIMITS.usual;
};

const mostPartsOf = ({ roles, isLong }: Route | OpenRoute): number =>
  isLong
    ? MOST_PARTS.long
    : roles !== 'everybody' && roles.every((role) => role === 'specialist')
      ? MOST_PARTS.specialist
      : MOST_PARTS.everybody;

/**
 * Reads a request's body, once it is known who asks: as bytes, or as JSON of a bounded size, depth and number of parts.
 * @throws a refusal where it is too large, packed, or no JSON
 */
export async function readBody(
  route: Route | OpenRoute,
  request: Request,
  response: Response,
): Promise<unknown> {
  if (route.method === 'GET') return undefined;
  // Packed, a few bytes could become any number; no browser packs what it sends.
  const packed = request.headers['content-encoding'];
  if (packed !== undefined && packed !== 'identity')
    throw refusal(415, 'This was sent packed, and is not taken.');
  const limit = limitOf(route);
  if (Number(request.headers['content-length'] ?? 0) > limit) {
    // What is still to come is not read: the connection is of no more use.
    response.setHeader('Connection', 'close');
    throw refusal(413, 'This is larger than what is taken at once.');
  }
  const read = express.raw({ type: () => true, limit, inflate: false });
  await new Promise<void>((resolve, reject) => {
    read(request, response, (error?: unknown) => {
      if (error === undefined) resolve();
      else reject(error instanceof Error ? error : new Error('a body could not be read'));
    });
  });
  const bytes: unknown = request.body;
  if (!Buffer.isBuffer(bytes)) return undefined;
  if (route.rawBody) return bytes;
  if (!/^application\/json\b/i.test(request.headers['content-type'] ?? '')) {
    if (bytes.length === 0) return undefined;
    throw refusal(415, 'This must be sent as application/json.');
  }
  return readJson(bytes.toString('utf8'), mostPartsOf(route));
}

/** @throws a refusal where the text is no JSON, has too many parts, or text in it is no well-formed Unicode */
export function readJson(text: string, mostParts: number): unknown {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch {
    throw refusal(400, 'This request could not be read.');
  }
  let parts = 0;
  const mustBeFit = (each: string): void => {
    if (!each.isWellFormed() || each.includes('\u0000'))
      throw refusal(400, 'Some text in this is not well-formed Unicode, and cannot be kept.');
  };
  const look = (each: unknown, depth: number): void => {
    parts += 1;
    if (parts > mostParts || depth > DEEPEST)
      throw refusal(413, 'This has more parts than are taken at once.');
    if (typeof each === 'string') mustBeFit(each);
    else if (Array.isArray(each)) for (const one of each) look(one, depth + 1);
    else if (typeof each === 'object' && each !== null)
      for (const [key, one] of Object.entries(each)) {
        mustBeFit(key);
        look(one, depth + 1);
      }
  };
  look(value, 0);
  return value;
}
