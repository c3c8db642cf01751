import { innerOf } from '../../../estate';
import { treatmentsOf } from '../walk';
import type { Check } from '../types';

/** Whether digits can be guessed: all the same, in a row, too few, or the extension. */
export function isWeakPin(digits: string, extensions: readonly string[] = []): boolean {
  const steps = new Set([...digits].slice(1).map((digit, i) => Number(digit) - Number(digits[i])));
  return (
    digits.length < 4 ||
    (steps.size === 1 && Math.abs([...steps][0]!) <= 1) ||
    extensions.includes(digits) ||
    /^(\d\d)\1+$/.test(digits)
  );
}

export const weakCode: Check = {
  id: 'weak-code',
  of: 'person',
  weight: 'risk',
  title: 'A code that can be guessed',
  looksFor:
    'Codes asked of callers that are short, all the same digit, in a row, repeated, or the extension.',
  why: 'Whoever guesses it rings where they should not.',
  run: (person) =>
    treatmentsOf(person).flatMap(({ treatment, at, setting, where }) =>
      treatment.stages.flatMap((stage, i) =>
        'code' in stage &&
        isWeakPin(
          stage.code.digits,
          person.lines.map(({ extension }) => extension),
        )
          ? [
              {
                detail: `${at}/${i}`,
                says: `The code asked in ${where} is easily guessed.`,
                evidence: [{ text: 'The code', setting: innerOf(setting, ['stages', i], 'code') }],
              },
            ]
          : [],
      ),
    ),
};
