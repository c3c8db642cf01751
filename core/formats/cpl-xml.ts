import { XMLParser, XMLValidator } from 'fast-xml-parser';
import { CPL_NAMESPACE } from './cpl-out';

const MOST_CHARACTERS = 1 << 20;
const DEEPEST = 150;
const MOST_ELEMENTS = 5000;

/** An element of the script. */
export interface Element {
  readonly name: string;
  readonly attributes: Readonly<Record<string, string>>;
  readonly children: readonly Element[];
  readonly line: number;
}

export const stop = (line: number, message: string): never => {
  // Thrown and caught by the reader of scripts: a fault ends the reading from whatever depth it is found at.
  throw Object.assign(new Error(message), { cplLine: line });
};

/**
 * Goes through a document once, in the order in which it stands, before anything is built of it: whichever begins
 * first, a comment, an instruction or a section of text, is passed over to its end, so that nothing can hide in
 * another. Its time grows with the text, never faster.
 */
function look(text: string, lineAt: (index: number) => number): void {
  const passed = (from: number, end: string, what: string): number => {
    const at = text.indexOf(end, from);
    return at < 0 ? stop(lineAt(from), `is not XML: ${what} is not closed`) : at + end.length;
  };
  let level = 0;
  let elements = 0;
  for (let at = text.indexOf('<'); at >= 0; at = text.indexOf('<', at)) {
    if (text.startsWith('<!--', at)) {
      const end = passed(at + 4, '--', 'a comment');
      if (text[end] !== '>') stop(lineAt(end), 'is not XML: two hyphens stand in a comment');
      at = end + 1;
    } else if (text.startsWith('<?', at)) at = passed(at + 2, '?>', 'an instruction');
    else if (text.startsWith('<![CDATA[', at)) at = passed(at + 9, ']]>', 'a section of text');
    else if (text.startsWith('<!', at))
      stop(lineAt(at), 'has a document type or entities, which are not read: remove them');
    else {
      const end = endOfTag(text, at + 1);
      if (end < 0) stop(lineAt(at), 'is not XML: a tag is not closed');
      if (text[at + 1] === '/') level -= 1;
      else {
        elements += 1;
        if (elements > MOST_ELEMENTS) stop(lineAt(at), `has more than ${MOST_ELEMENTS} elements`);
        if (text[end - 1] !== '/') level += 1;
        if (level > DEEPEST) stop(lineAt(at), `is nested more than ${DEEPEST} deep`);
      }
      at = end + 1;
    }
  }
}

/** Where a tag's `>` is, those in its attributes' quotes left out; -1: nowhere. */
function endOfTag(text: string, from: number): number {
  for (let at = from; at < text.length; at += 1) {
    const character = text[at];
    if (character === '>') return at;
    if (character === '"' || character === "'") {
      at = text.indexOf(character, at + 1);
      if (at < 0) return -1;
    }
  }
  return -1;
}

/** Finds the line of a place, from 1, without going through the text each time. */
function linesOf(text: string): (index: number) => number {
  const starts = [0];
  for (let at = text.indexOf('\n'); at >= 0; at = text.indexOf('\n', at + 1)) starts.push(at + 1);
  return (index) => {
    let low = 0;
    let high = starts.length;
    while (high - low > 1) {
      const middle = (low + high) >> 1;
      if (starts[middle]! <= index) low = middle;
      else high = middle;
    }
    return low + 1;
  };
}

/** The elements of a document, with their lines; only what XML itself has, without entities or a document type. */
export function parseScript(text: string): Element {
  if (text.length > MOST_CHARACTERS) stop(1, 'is longer than a million characters');
  const lineAt = linesOf(text);
  look(text, lineAt);
  const valid = XMLValidator.validate(text);
  if (valid !== true) stop(valid.err.line, `is not XML: ${valid.err.msg}`);
  const parser = new XMLParser({
    preserveOrder: true,
    ignoreAttributes: false,
    attributeNamePrefix: '',
    parseAttributeValue: false,
    parseTagValue: false,
    ignoreDeclaration: true,
    ignorePiTags: true,
    captureMetaData: true,
  });
  const meta = XMLParser.getMetaDataSymbol() as unknown as symbol;
  const read = (nodes: readonly Record<string | symbol, unknown>[]): Element[] =>
    nodes.flatMap((each): Element[] => {
      const name = Object.keys(each).find((key) => key !== ':@' && key !== '#text');
      if (name === undefined) return [];
      const start = (each[meta] as { startIndex?: number } | undefined)?.startIndex ?? 0;
      return [
        {
          name: name.slice(name.indexOf(':') + 1),
          attributes: (each[':@'] ?? {}) as Record<string, string>,
          children: read(each[name] as Record<string, unknown>[]),
          line: lineAt(start),
        },
      ];
    });
  const roots = read(parser.parse(text) as Record<string, unknown>[]);
  const [root] = roots;
  if (!root || roots.length > 1 || root.name !== 'cpl')
    return stop(root?.line ?? 1, 'is no CPL script: its outermost element must be <cpl>');
  const xmlns = Object.entries(root.attributes).find(([name]) => /^xmlns(:|$)/.test(name))?.[1];
  if (xmlns !== undefined && xmlns !== CPL_NAMESPACE)
    stop(root.line, `is of the namespace ${xmlns}, not ${CPL_NAMESPACE}`);
  return root;
}

/** An element's contents without lines, for comparing. */
export const stripped = ({ name, attributes, children }: Element): unknown => [
  name,
  attributes,
  children.map(stripped),
];
export const contentKey = ({ children }: Element): string => JSON.stringify(children.map(stripped));
