import { XMLParser, XMLValidator } from 'fast-xml-parser';
import { CPL_NAMESPACE } from './cpl-out';

const MOST_CHARACTERS = 1 << 20;
const DEEPEST = 150;

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

/** The elements of a document, with their lines; only what XML itself has, without entities or a document type. */
export function parseScript(text: string): Element {
  if (text.length > MOST_CHARACTERS) stop(1, 'is longer than a million characters');
  const bare = text.replace(/<!--[\s\S]*?-->/g, (comment) => comment.replace(/[^\n]/g, ' '));
  const declared = bare.search(/<!(DOCTYPE|ENTITY|ELEMENT|ATTLIST)/i);
  if (declared >= 0)
    stop(lineAt(text, declared), 'has a document type or entities, which are not read: remove them');
  const valid = XMLValidator.validate(text);
  if (valid !== true) stop(valid.err.line, `is not XML: ${valid.err.msg}`);
  const depth = deepest(bare);
  if (depth.levels > DEEPEST) stop(lineAt(text, depth.at), `is nested more than ${DEEPEST} deep`);
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
          line: lineAt(text, start),
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

const lineAt = (text: string, index: number) => text.slice(0, index).split('\n').length;

/** How deep the elements go, without building them. */
function deepest(text: string): { levels: number; at: number } {
  let level = 0;
  let levels = 0;
  let at = 0;
  for (const match of text.matchAll(/<(\/?)[A-Za-z_][^<>]*?(\/?)>/g)) {
    if (match[1]) level -= 1;
    else if (!match[2]) level += 1;
    if (level > levels) {
      levels = level;
      at = match.index;
    }
  }
  return { levels, at };
}

/** An element's contents without lines, for comparing. */
export const stripped = ({ name, attributes, children }: Element): unknown => [
  name,
  attributes,
  children.map(stripped),
];
export const contentKey = ({ children }: Element): string => JSON.stringify(children.map(stripped));
