import type { PlacedFault } from './text-file';

/** One entry of a directory: its attributes in order, names in small letters and without their options. */
export interface DirectoryEntry {
  readonly line: number;
  readonly dn: string;
  readonly attributes: readonly { readonly name: string; readonly value: string; readonly line: number }[];
}
export type ReadLdif =
  | { readonly ok: true; readonly entries: readonly DirectoryEntry[] }
  | { readonly ok: false; readonly faults: readonly PlacedFault[] };

const MOST_FAULTS = 20;
const BASE64 = /^(?:[A-Za-z0-9+/]{4})*(?:[A-Za-z0-9+/]{2}==|[A-Za-z0-9+/]{3}=)?$/;

/** Whether a text looks like LDIF rather than a table. */
export const looksLikeLdif = (text: string): boolean =>
  /^\uFEFF?(?:#[^\n]*\r?\n|[ \t]*\r?\n)*(?:version:|dn:)/i.test(text.slice(0, 20_000));

interface LdifLine {
  readonly text: string;
  readonly line: number;
}

/** Lines put together again where they were folded (RFC 2849, note 2), without comments. */
function* unfolded(text: string): Generator<LdifLine> {
  let parts: string[] | null = null;
  let began = 0;
  let line = 0;
  let at = text.startsWith('\uFEFF') ? 1 : 0;
  const kept = (): LdifLine | null => {
    const whole = parts?.join('') ?? null;
    return whole === null || whole.startsWith('#') ? null : { text: whole, line: began };
  };
  while (at <= text.length) {
    const end = text.indexOf('\n', at);
    const raw = text.slice(at, end < 0 ? text.length : end).replace(/\r$/, '');
    line += 1;
    at = end < 0 ? text.length + 1 : end + 1;
    if (raw.startsWith(' ') && parts) {
      parts.push(raw.slice(1));
      continue;
    }
    const before = kept();
    if (before) yield before;
    parts = [raw];
    began = line;
  }
  const last = kept();
  if (last) yield last;
}

const decode = (base64: string): string | null => {
  try {
    return new TextDecoder('utf-8', { fatal: true }).decode(
      Uint8Array.from(atob(base64), (byte) => byte.charCodeAt(0)),
    );
  } catch {
    return null;
  }
};

/**
 * Reads directory entries as LDIF (RFC 2849): folded lines, comments, several values of an attribute, values in
 * base64. Change records and values kept at a URL are faults, since nothing is fetched and nothing is changed here.
 */
export function readLdif(text: string): ReadLdif {
  const entries: DirectoryEntry[] = [];
  const faults: PlacedFault[] = [];
  let current: { line: number; dn: string; attributes: DirectoryEntry['attributes'][number][] } | null = null;
  const fault = (line: number, column: number, message: string) => {
    if (faults.length < MOST_FAULTS) faults.push({ line, column, message });
  };
  for (const { text: whole, line } of unfolded(text)) {
    if (whole.trim() === '') {
      if (current) entries.push(current);
      current = null;
      continue;
    }
    const read = /^([A-Za-z0-9][A-Za-z0-9.-]*)((?:;[A-Za-z0-9-]+)*):([:<]?) *(.*)$/s.exec(whole);
    if (!read) {
      fault(
        line,
        1,
        whole.startsWith(' ') ? 'a continued line has nothing before it' : 'is no "name: value"',
      );
      continue;
    }
    const [, given = '', , mark, rest = ''] = read;
    const name = given.toLowerCase();
    const column = whole.length - rest.length + 1;
    let value = rest;
    if (mark === '<') {
      fault(line, column, 'the value is kept at a URL, which is not fetched');
      continue;
    }
    if (mark === ':') {
      const bare = rest.trim();
      const decoded = BASE64.test(bare) ? decode(bare) : null;
      if (decoded === null) {
        fault(
          line,
          column,
          BASE64.test(bare) ? 'the base64 value is no UTF-8 text' : 'the value is no base64',
        );
        continue;
      }
      value = decoded;
    }
    if (name === 'version' && !current && entries.length === 0) {
      if (value.trim() !== '1')
        fault(line, column, `version ${value.trim()} is not known; LDIF is version 1`);
    } else if (name === 'dn') {
      if (current)
        fault(line, 1, 'an entry begins before the one above it has ended: a blank line is missing');
      current = { line, dn: value, attributes: [] };
    } else if (!current) fault(line, 1, 'an entry begins with "dn:"');
    else if (name === 'changetype' || name === 'control')
      fault(line, 1, 'is a record of changes; entries are wanted');
    else current.attributes.push({ name, value, line });
  }
  if (current) entries.push(current);
  if (faults.length === 0 && entries.length === 0) fault(0, 0, 'there is no entry in it');
  return faults.length > 0 ? { ok: false, faults } : { ok: true, entries };
}
