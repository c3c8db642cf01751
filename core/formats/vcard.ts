import ICAL from 'ical.js';
import { telUri } from '../calls/dialling';
import type { Fault, Person } from '../estate';
import { writeCsv } from './csv';

/** People's numbers as vCards (RFC 6350), and vCards as a staff list. */
const escape = (text: string) =>
  text
    .replace(/[\\;,]/g, '\\$&')
    .replace(/\r\n?|\n/g, '\\n')
    // Other signs that steer cannot stand in a card (RFC 6350, section 3.3).
    // eslint-disable-next-line no-control-regex
    .replace(/[\u0000-\u0008\u000b-\u001f\u007f]/g, '');

/** Given and family name of a name written the usual way round. */
function nameParts(name: string): string {
  const words = name.trim().split(/\s+/);
  const family = words.length > 1 ? (words.pop() ?? '') : '';
  return `${escape(family)};${escape(words.join(' '))};;;`;
}

/** One person as a vCard 4.0: lines as work numbers with their extension, mobiles and landlines as what they are. */
export function writeVCard(person: Person, organisation: string): string {
  const tel = (type: string, uri: string) => `TEL;VALUE=uri;TYPE=${type}:${uri}`;
  return [
    'BEGIN:VCARD',
    'VERSION:4.0',
    `UID:${escape(`hostler:${person.id}`)}`,
    `FN:${escape(person.name)}`,
    `N:${nameParts(person.name)}`,
    `ORG:${escape(organisation)}`,
    ...person.lines.flatMap(({ extension, numbers }) =>
      numbers.length
        ? numbers.map((number) => tel('"work,voice"', `${telUri(number)};ext=${extension}`))
        : [`TEL;VALUE=text;TYPE=work:${extension}`],
    ),
    ...person.endpoints.flatMap(({ kind, number }) =>
      number ? [tel(kind === 'mobile' ? '"cell,voice"' : '"home,voice"', telUri(number))] : [],
    ),
    'END:VCARD',
    '',
  ].join('\r\n');
}

export type ReadCards =
  | {
      readonly ok: true;
      /** A staff list, as `readCsv` takes it. */
      readonly csv: string;
      readonly cards: number;
      readonly notes: readonly string[];
    }
  | { readonly ok: false; readonly faults: readonly Fault[] };

const MOST_BYTES = 16 << 20;
const MOST_CARDS = 20_000;

interface Row {
  extension: string;
  direct: string;
  mobile: string;
  home: string;
}

/** Puts one telephone property where it belongs in a row. */
function takeTel(value: string, types: readonly string[], row: Row): void {
  const extension = /;ext=(\d+)/i.exec(value)?.[1];
  const number = value
    .replace(/^tel:/i, '')
    .replace(/;.*$/, '')
    .replace(/[\s().-]/g, '');
  if (extension) row.extension ||= extension;
  if (/^\d{2,6}$/.test(number)) row.extension ||= number;
  else if (types.includes('cell')) row.mobile ||= number;
  else if (types.includes('home')) row.home ||= number;
  else if (!types.includes('fax') && !types.includes('pager')) row.direct ||= number;
}

/** The place of a card in the text, for saying where something is wrong. */
function lineOf(text: string, card: number): number {
  let seen = -1;
  return 1 + text.split(/\r?\n/).findIndex((line) => /^BEGIN:VCARD/i.test(line) && (seen += 1) === card);
}

/**
 * Reads vCards (versions 2.1 to 4.0 as far as they are written alike) as a staff list with the columns that the staff
 * import knows by their headings. Cards without a name are left out, which is said.
 */
export function readVCards(text: string): ReadCards {
  if (text.length > MOST_BYTES)
    return { ok: false, faults: [{ path: '', message: 'is larger than 16 MiB' }] };
  let parsed: unknown[];
  try {
    const all = ICAL.parse(text.replace(/^\uFEFF/, '')) as unknown[];
    parsed = Array.isArray(all[0]) ? all : [all];
  } catch (error) {
    const message = error instanceof Error ? error.message : String(error);
    const part = /"([^"]+)"\s*$/.exec(message)?.[1] ?? '';
    const line = part ? text.split(/\r?\n/).findIndex((each) => each.includes(part)) + 1 : 0;
    return { ok: false, faults: [{ path: line ? `line ${line}` : '', message: `is no vCard: ${message}` }] };
  }
  if (parsed.length > MOST_CARDS)
    return { ok: false, faults: [{ path: '', message: `has more than ${MOST_CARDS} cards` }] };
  const notes: string[] = [];
  const rows = parsed.flatMap((each, i): string[][] => {
    const card = new ICAL.Component(each as unknown[]);
    if (card.name !== 'vcard') {
      notes.push(`${card.name} is no vCard and was left out`);
      return [];
    }
    const name = card.getFirstPropertyValue('fn');
    if (typeof name !== 'string' || name.trim() === '') {
      notes.push(`line ${lineOf(text, i)}: a card without a name (FN) was left out`);
      return [];
    }
    const row: Row = { extension: '', direct: '', mobile: '', home: '' };
    for (const tel of card.getAllProperties('tel')) {
      const type = tel.getParameter('type') as string | string[] | undefined;
      const types = (Array.isArray(type) ? type : [type ?? '']).flatMap((t) => t.toLowerCase().split(','));
      takeTel(String(tel.getFirstValue()), types, row);
    }
    return [[name.trim(), row.extension, row.direct, row.mobile, row.home]];
  });
  return {
    ok: true,
    cards: rows.length,
    notes,
    csv: writeCsv(['Name', 'Extension', 'Direct number', 'Mobile', 'Home number'], rows),
  };
}
