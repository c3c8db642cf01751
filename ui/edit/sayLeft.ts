import { placeWords } from '../../core/estate';
import type { LeftOut } from '../../core/editing';

/** What a template asks for and a person has not, and what becomes of it. */
export function sayLeft({ place, rule, what }: LeftOut): string {
  const where = rule === null ? 'the last part of the plan' : `“${rule}”`;
  switch (what) {
    case 'target':
      return `Has no ${placeWords(place)}: left out of ${where}`;
    case 'condition':
      return `Has no ${placeWords(place)}: in ${where} a phone rings without asking for it`;
    case 'rule':
      return `Has no ${placeWords(place)}: ${where} is left out`;
    case 'ending':
      return `Has no ${placeWords(place)}: the own mailbox stands for it in ${where}`;
  }
}
