/** Reading bytes as text, with the place of what cannot be read. */

export interface PlacedFault {
  /** 1 for the first line; 0 where no line is meant. */
  readonly line: number;
  /** 1 for the first column of a table or character of a line; 0 where none is meant. */
  readonly column: number;
  readonly message: string;
  /** `not-utf-8`: it can be read again as Latin-1. */
  readonly code?: 'not-utf-8';
}

export type TextEncoding = 'utf-8' | 'utf-16' | 'latin-1';

export type DecodedText =
  | {
      readonly ok: true;
      readonly text: string;
      readonly encoding: TextEncoding;
      readonly byteOrderMark: boolean;
    }
  | { readonly ok: false; readonly fault: PlacedFault };

/** Where the bytes stop being UTF-8: line and character, both from 1. */
function placeOfBadByte(bytes: Uint8Array): { line: number; column: number; byte: number } {
  const strict = (end: number) => {
    try {
      new TextDecoder('utf-8', { fatal: true }).decode(bytes.subarray(0, end), { stream: true });
      return true;
    } catch {
      return false;
    }
  };
  let good = 0;
  let bad = bytes.length;
  while (bad - good > 1) {
    const middle = (good + bad) >> 1;
    if (strict(middle)) good = middle;
    else bad = middle;
  }
  const before = new TextDecoder('utf-8').decode(bytes.subarray(0, good), { stream: true });
  const lines = before.split('\n');
  return { line: lines.length, column: (lines.at(-1)?.length ?? 0) + 1, byte: bytes[good] ?? 0 };
}

/**
 * Reads bytes as text: UTF-8 with or without a byte-order mark, UTF-16 with one, or, only when asked, Latin-1
 * (read as windows-1252, as browsers read it).
 */
export function decodeText(bytes: Uint8Array, readAs?: TextEncoding): DecodedText {
  const [a, b, c] = bytes;
  const utf16 = a === 0xff && b === 0xfe ? 'utf-16le' : a === 0xfe && b === 0xff ? 'utf-16be' : null;
  if (utf16)
    return { ok: true, text: new TextDecoder(utf16).decode(bytes), encoding: 'utf-16', byteOrderMark: true };
  if (readAs === 'latin-1')
    return {
      ok: true,
      text: new TextDecoder('windows-1252').decode(bytes),
      encoding: 'latin-1',
      byteOrderMark: false,
    };
  const byteOrderMark = a === 0xef && b === 0xbb && c === 0xbf;
  try {
    const text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
    const nul = text.indexOf('\0');
    if (nul < 0) return { ok: true, text, encoding: 'utf-8', byteOrderMark };
    const line = text.slice(0, nul).split('\n').length;
    return { ok: false, fault: { line, column: 0, message: 'holds a zero byte: this is no text file' } };
  } catch {
    const { line, column, byte } = placeOfBadByte(bytes);
    const code = byte.toString(16).toUpperCase().padStart(2, '0');
    return {
      ok: false,
      fault: {
        line,
        column,
        message: `byte ${code} is not UTF-8; if the file was saved as Latin-1 (Western European), read it as that`,
        code: 'not-utf-8',
      },
    };
  }
}
