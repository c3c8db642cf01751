/** A value of a file as it stands there, and the line at which it begins, from 1; or what is wrong at that line. */
export type Piece =
  | { readonly line: number; readonly text: string }
  | { readonly line: number; readonly fault: string };

/** A file of JSON values cut into its values as its text comes, part by part. */
export interface Pieces {
  readonly push: (text: string) => readonly Piece[];
  /** There is no more of it. */
  readonly end: () => readonly Piece[];
  /** Whether no more is read, whatever comes. */
  readonly isOver: () => boolean;
}

const SPACE = /\s/;

/**
 * JSON lines (a value a line), or one JSON array (RFC 8259), told apart by the first character.
 * @param most characters that one value may have; at a longer one the reading ends
 */
export function jsonPieces(most = 2_000_000): Pieces {
  let form: 'lines' | 'array' | null = null;
  let [text, line, began] = ['', 1, 1];
  let [depth, isText, isEscaped, isOver] = [0, false, false, false];
  const out: Piece[] = [];
  const give = (piece: Piece) => out.push(piece);
  const fail = (fault: string, at = line) => {
    isOver = true;
    give({ line: at, fault });
  };
  const finish = () => {
    if (text !== '') give({ line: began, text });
    text = '';
  };

  function inLines(char: string): void {
    if (char !== '\n') {
      if (text === '') began = line;
      text += char;
    } else finish();
  }
  function inArray(char: string): void {
    if (isText) {
      text += char;
      isText = isEscaped || char !== '"';
      isEscaped = !isEscaped && char === '\\';
      return;
    }
    if (depth === 0 && (char === ',' || char === ']' || SPACE.test(char))) {
      if (!SPACE.test(char)) finish();
      else if (text !== '') text += char;
      if (char === ']') depth = -1;
      return;
    }
    if (depth < 0) {
      if (!SPACE.test(char)) fail('something stands after the end of the list');
      return;
    }
    if (text === '') began = line;
    text += char;
    if (char === '"') isText = true;
    else if (char === '{' || char === '[') depth += 1;
    else if (char === '}' || char === ']') depth -= 1;
  }
  const taken = (): readonly Piece[] => out.splice(0);
  return {
    push: (part) => {
      for (const char of part) {
        if (isOver) break;
        if (form === null) {
          if (SPACE.test(char) || char === '\uFEFF') {
            if (char === '\n') line += 1;
            continue;
          }
          form = char === '[' ? 'array' : 'lines';
          if (form === 'array') continue;
        }
        if (form === 'array') inArray(char);
        else inLines(char);
        if (char === '\n') line += 1;
        if (text.length > most) fail('is longer than is read', began);
      }
      return taken();
    },
    end: () => {
      if (!isOver && form === 'array' && depth >= 0) {
        // What was cut off in the middle is told, and not taken for a value.
        fail('the list does not end: the file is cut off');
      } else if (!isOver) finish();
      isOver = true;
      return taken();
    },
    isOver: () => isOver,
  };
}
