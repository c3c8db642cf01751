import {
  parsePhoneNumberFromString,
  validatePhoneNumberLength,
  type CountryCode,
} from 'libphonenumber-js/max';
import type { Dialling } from '../../estate';
import { callingCode, classify } from './classes';
import { dialReader } from './interpret';
import { dialString } from './dial-string';

/** Something of a dial plan that can be read in two ways, with a short example. */
export interface Ambiguity {
  readonly kind: 'extension-begins-outside' | 'extension-is-number' | 'two-numbers';
  /** What is dialled. */
  readonly example: string;
  readonly readAs: string;
  readonly meant: string;
  readonly text: string;
}

/** Home numbers are looked for below each group of so many digits, the rest filled with one digit. */
const GROUP_DIGITS = 3;
const FILLED_WITH = '2';

const LENGTHS = Array.from({ length: 13 }, (_, i) => i + 3);

/** How long national numbers of a country can be. */
const lengthsOf = (country: string): readonly number[] =>
  LENGTHS.filter(
    (length) => validatePhoneNumberLength('2'.repeat(length), country as CountryCode) === undefined,
  );

/** Numbers of the country that begin with some digits, a few for each group and length; shortest first. */
function* homeNumbers(dialling: Dialling, begins: string): Generator<string> {
  const calling = callingCode(dialling.country);
  if (calling === null) return;
  for (const length of lengthsOf(dialling.country)) {
    const free = Math.min(GROUP_DIGITS, length - begins.length);
    if (free < 0) continue;
    for (let group = 0; group < 10 ** free; group += 1) {
      const national = (begins + String(group).padStart(free, '0'))
        .slice(0, length)
        .padEnd(length, FILLED_WITH);
      const parsed = parsePhoneNumberFromString(`+${calling}${national}`);
      // One from which something is taken off is not written as E.164 has it.
      if (parsed?.nationalNumber === national && classify(parsed, dialling) !== 'bad-number')
        yield parsed.number;
    }
  }
}

/**
 * Where a dial plan contradicts itself. Where it does not, every number is read back from what is dialled for it.
 * @param extensions the extensions of the estate
 */
export function ambiguities(dialling: Dialling, extensions: readonly string[]): Ambiguity[] {
  const { outsideCode, internationalPrefix, nationalPrefix } = dialling;
  const found: Ambiguity[] = [];
  const sorted = [...new Set(extensions)].sort((a, b) => a.length - b.length || a.localeCompare(b));
  const none = dialReader(dialling, new Set());
  const begins =
    outsideCode === '' ? undefined : sorted.find((extension) => extension.startsWith(outsideCode));
  if (begins !== undefined)
    found.push({
      kind: 'extension-begins-outside',
      example: begins,
      readAs: `extension ${begins}`,
      meant: `${outsideCode} for outside, then ${begins.slice(outsideCode.length)}`,
      text: `Extension ${begins} begins with the outside code ${outsideCode}.`,
    });
  for (const extension of sorted) {
    if (extension.length !== dialling.extensionDigits) continue;
    const number = none.interpret(extension);
    if (number.kind !== 'number' || !number.e164 || number.dialAs !== extension) continue;
    found.push({
      kind: 'extension-is-number',
      example: extension,
      readAs: `extension ${extension}`,
      meant: number.e164,
      text: `${extension} is an extension, and also what is dialled for ${number.e164}.`,
    });
    break;
  }
  // Forms are tried in an order: what begins like an earlier one can be taken for it.
  const clashes = [
    ...(internationalPrefix.startsWith(nationalPrefix)
      ? [internationalPrefix.slice(nationalPrefix.length)]
      : []),
    ...(nationalPrefix.startsWith(internationalPrefix) ? [''] : []),
    ...(dialling.localWithPrefix
      ? []
      : [internationalPrefix, nationalPrefix].flatMap((prefix) =>
          prefix === '' ||
          dialling.areaCodes.some((area) => area.startsWith(prefix) || prefix.startsWith(area))
            ? [prefix]
            : [],
        )),
  ];
  for (const clash of new Set(clashes)) {
    const two = firstTaken(dialling, clash, none);
    if (!two) continue;
    found.push(two);
    break;
  }
  return found;
}

function firstTaken(
  dialling: Dialling,
  begins: string,
  reader: ReturnType<typeof dialReader>,
): Ambiguity | null {
  for (const e164 of homeNumbers(dialling, begins)) {
    const dialled = dialString(e164, dialling);
    const read = reader.interpret(dialled);
    if (read.e164 === e164) continue;
    const readAs = read.e164 ?? `nothing (${read.faults.join(', ')})`;
    return {
      kind: 'two-numbers',
      example: dialled,
      readAs,
      meant: e164,
      text: `${dialled} is dialled for ${e164}, and read as ${readAs}.`,
    };
  }
  return null;
}
