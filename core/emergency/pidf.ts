import { XMLBuilder, XMLParser, XMLValidator } from 'fast-xml-parser';
import { CIVIC_ELEMENTS, type Civic } from '../estate';

/** Namespaces of RFC 3863, 4119, 4479 and 5139. */
const PIDF = 'urn:ietf:params:xml:ns:pidf';
const GEOPRIV = 'urn:ietf:params:xml:ns:pidf:geopriv10';
const DATA_MODEL = 'urn:ietf:params:xml:ns:pidf:data-model';
const CIVIC_ADDRESS = 'urn:ietf:params:xml:ns:pidf:geopriv10:civicAddr';

/** A location as it is sent: whose, of which device, where, and when that was so. */
export interface Location {
  /** The person or phone it is of, as a `pres:` or `sip:` URI. */
  readonly entity: string;
  /** An id of the device in the document (an XML NCName). */
  readonly device: string;
  readonly civic: Civic;
  /** ISO 8601 */
  readonly at: string;
}

/**
 * Writes a location as PIDF-LO: one device with a civic address in the order of RFC 5139, put in by hand, not to be
 * passed on (RFC 4119, section 2.2; RFC 5491, section 3).
 */
export function writePidfLo({ entity, device, civic, at }: Location): string {
  const address = Object.fromEntries(
    CIVIC_ELEMENTS.flatMap((name) => {
      const value = civic[name];
      return value === undefined || value === '' ? [] : [[`cl:${name}`, value] as const];
    }),
  );
  const builder = new XMLBuilder({ ignoreAttributes: false, format: true });
  const body: unknown = builder.build({
    '?xml': { '@_version': '1.0', '@_encoding': 'UTF-8' },
    presence: {
      '@_xmlns': PIDF,
      '@_xmlns:gp': GEOPRIV,
      '@_xmlns:dm': DATA_MODEL,
      '@_xmlns:cl': CIVIC_ADDRESS,
      '@_entity': entity,
      'dm:device': {
        '@_id': device,
        'gp:geopriv': {
          'gp:location-info': { 'cl:civicAddress': address },
          'gp:usage-rules': { 'gp:retransmission-allowed': 'no' },
          'gp:method': 'Manual',
        },
        'dm:deviceID': `urn:device:${device}`,
        'dm:timestamp': at,
      },
    },
  });
  return String(body);
}

export type LocationOrFault =
  | { readonly ok: true; readonly location: Location }
  | { readonly ok: false; readonly message: string };

const MOST_CHARACTERS = 65_536;
const NCNAME = /^[A-Za-z_][\w.-]*$/;
const local = (name: string) => name.replace(/^[^:]*:/, '');
type Node = Readonly<Record<string, unknown>>;
const isNode = (value: unknown): value is Node =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
/** A child element by its name without its prefix; of several the first. */
function child(node: unknown, name: string): unknown {
  if (!isNode(node)) return undefined;
  const found = Object.entries(node).find(([key]) => !key.startsWith('@_') && local(key) === name)?.[1];
  return Array.isArray(found) ? (found as readonly unknown[])[0] : found;
}
const textOf = (node: unknown): string | undefined =>
  typeof node === 'string'
    ? node
    : isNode(node) && typeof node['#text'] === 'string'
      ? node['#text']
      : undefined;

/** Reads a PIDF-LO with a civic address; bounded before it is read, without entities and types of its own. */
export function readPidfLo(text: string): LocationOrFault {
  const fault = (message: string): LocationOrFault => ({ ok: false, message });
  if (text.length > MOST_CHARACTERS) return fault(`has more than ${MOST_CHARACTERS} characters`);
  if (/<!(?:DOCTYPE|ENTITY)/i.test(text)) return fault('has a document type, which is not read');
  const valid = XMLValidator.validate(text);
  if (valid !== true) return fault(`is not XML: ${valid.err.msg}`);
  const parsed: unknown = new XMLParser({
    ignoreAttributes: false,
    parseTagValue: false,
    parseAttributeValue: false,
    processEntities: false,
  }).parse(text);
  const presence = child(parsed, 'presence');
  if (!isNode(presence)) return fault('has no presence element');
  if (!Object.entries(presence).some(([key, value]) => key.startsWith('@_xmlns') && value === PIDF))
    return fault(`is not in the namespace ${PIDF}`);
  const entity = presence['@_entity'];
  if (typeof entity !== 'string' || entity === '') return fault('names no entity');
  const holder = child(presence, 'device') ?? child(presence, 'tuple') ?? child(presence, 'person');
  const geopriv = child(holder, 'geopriv') ?? child(child(holder, 'status'), 'geopriv');
  const address = child(child(geopriv, 'location-info'), 'civicAddress');
  if (!isNode(address)) return fault('has no civic address');
  const civic: Partial<Record<string, string>> = {};
  for (const [key, value] of Object.entries(address)) {
    if (key.startsWith('@_') || key === '#text') continue;
    const name = local(key);
    const known = CIVIC_ELEMENTS.find((each) => each === name);
    // Elements that others add (RFC 6848) are passed over.
    if (!known) continue;
    const said = textOf(value)?.trim();
    if (Array.isArray(value)) return fault(`has ${name} twice`);
    if (said) civic[known] = said.slice(0, 120);
  }
  const id = isNode(holder) ? holder['@_id'] : undefined;
  return {
    ok: true,
    location: {
      entity,
      device: typeof id === 'string' && NCNAME.test(id) ? id : 'device',
      civic: civic as Civic,
      at: textOf(child(holder, 'timestamp')) ?? '',
    },
  };
}
