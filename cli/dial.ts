import {
  extensionsOf,
  localTelUri,
  sipUriOf,
  interpret,
  mayDial,
  showNumber,
  type Interpreted,
  type MayDial,
  telUri,
} from '../core/calls/dialling';
import { fail, options, readEstateFile } from './io';

const WORDS: Readonly<Record<string, string>> = {
  empty: 'nothing was given',
  letters: 'a number is written in digits, not letters',
  'too-short': 'too short for a number',
  'too-long': 'too long for a number',
  'which-area': 'a number of several local areas: add the area code',
  'no-such-extension': 'no such extension',
  'no-such-code': 'no such code of the organisation',
  'not-a-number': 'the numbering plan has no such number',
  'emergency-number': 'an emergency number is never a target',
  'outside-code-twice': 'the outside code stands twice',
  'outside-code-added': 'the outside code is added',
  'area-code-added': 'the area code is added',
};

function say(read: Interpreted, may: MayDial | null, trunk: string | undefined): string {
  if (read.kind === 'invalid') return read.faults.map((fault) => WORDS[fault] ?? fault).join('; ');
  const what = read.e164
    ? `${showNumber(read.e164)}, ${read.class ?? ''}`
    : `${read.kind} ${read.dialAs ?? ''}`;
  const notes = read.notes.map((note) => `, ${WORDS[note] ?? note}`).join('');
  const allowed = may ? (may.ok ? `; may be dialled, by ${trunk}` : `; ${may.reason}: ${may.heard}`) : '';
  return `${what}; dialled as ${read.dialAs ?? ''}${notes}${allowed}`;
}

/** What was understood as a URI: a number as `tel:` or at a host as `sip:`, an extension in the context of a host. */
const uriOf = ({ e164, extension, uri }: Interpreted, host: string | undefined): string | undefined => {
  if (e164 !== undefined) return host === undefined ? telUri(e164) : sipUriOf(e164, host);
  return extension === undefined || host === undefined ? uri : localTelUri(extension, host);
};

/**
 * `dial --estate FILE --number TEXT [--person ID] [--json | --uri [--host HOST]]`: what a number is, what is dialled for it, and
 * whether a person's line may; or its URI alone, `tel:` (RFC 3966) or `sip:` (RFC 3261). Exit code 1 where it is
 * nothing that can be dialled.
 */
export async function dial(args: string[]): Promise<number> {
  const text = { type: 'string' } as const;
  const given = options(args, {
    estate: text,
    number: text,
    person: text,
    host: text,
    json: { type: 'boolean' },
    uri: { type: 'boolean' },
  });
  if (!given.ok) return fail(given.message);
  const { estate: file, number, person: id, host } = given.value as Record<string, string | undefined>;
  if (file === undefined) return fail('--estate FILE is needed');
  if (number === undefined) return fail('--number TEXT is needed');
  const read = readEstateFile(file);
  if (!read.ok) return fail(read.message);
  const estate = read.value;
  const person = id === undefined ? null : estate.people.find((each) => each.id === id);
  if (person === undefined) return fail(`there is no person "${id}"`);
  const extensions = extensionsOf(estate);
  const found = interpret(number, estate.dialling, extensions);
  const may = person && found.e164 ? mayDial(person, found.e164, estate) : null;
  const trunk = estate.trunks.find((each) => each.id === may?.trunk)?.name;
  const uri = uriOf(found, host);
  if (given.value.uri === true && uri !== undefined) {
    process.stdout.write(`${uri}\n`);
    return 0;
  }
  process.stdout.write(
    given.value.json === true
      ? `${JSON.stringify({ ...found, ...(may ? { mayDial: may } : {}) })}\n`
      : `${say(found, may, trunk)}\n`,
  );
  return found.kind === 'invalid' ? 1 : 0;
}
