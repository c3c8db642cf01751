import { rewritten } from './languages';
import type { TextClass } from './machine';
import type { Form, Rewrite } from './types';

/** What a form looks at in a number: whether it begins with `+`, and whether a `+` stands further on. */
interface NumberLook {
  readonly plus: boolean;
  readonly inside: boolean;
  readonly empty: boolean;
}

/** How the numbers of a class look after a rewriting. */
export function lookAfter({ plus, length }: TextClass, rewrite: Rewrite | undefined): NumberLook {
  const { drop, prepend } = rewrite ?? { drop: 0, prepend: '' };
  const keepsPlus = plus && drop === 0;
  const isEmptied = length <= drop;
  return {
    plus: prepend === '' ? keepsPlus : prepend.startsWith('+'),
    inside: prepend !== '' && keepsPlus,
    empty: isEmptied && prepend.replace('+', '') === '',
  };
}

/** Whether a peer that expects a form takes numbers of this look. Numbers with nothing in them are another matter. */
export const isOfForm = (form: Form, { plus, inside }: NumberLook): boolean =>
  form === 'any' || (!inside && plus === (form === 'e164'));

/** How the organisation's numbers are written, as far as it is known. */
export interface NumberForms {
  readonly countryCode: string;
  readonly outsideCode: string;
  readonly internationalPrefix: string;
  readonly nationalPrefix: string;
}

/**
 * The rewriting that brings a number to a peer in the form that it expects.
 * @param number the number as the route meets it
 * @param rewrite what the route does to it now
 */
export function mendForm(
  number: string,
  rewrite: Rewrite | undefined,
  form: Form,
  plan: NumberForms | null,
): Rewrite | null {
  const now = rewrite ?? { drop: 0, prepend: '' };
  const sent = rewritten(number, now);
  if (form === 'e164') {
    if (sent.lastIndexOf('+') > 0) {
      // A `+` before a number that has one.
      return {
        drop: number.startsWith('+') ? 1 : 0,
        prepend: now.prepend.startsWith('+') ? now.prepend : '+',
      };
    }
    if (plan && now.prepend === '') {
      const { outsideCode, internationalPrefix, nationalPrefix, countryCode } = plan;
      const heads: readonly (readonly [string, string])[] = [
        [outsideCode + internationalPrefix, '+'],
        [outsideCode + nationalPrefix, `+${countryCode}`],
        [outsideCode, `+${countryCode}`],
        [internationalPrefix, '+'],
        [nationalPrefix, `+${countryCode}`],
      ];
      for (const [head, put] of heads)
        if (head !== '' && number.startsWith(head)) return { drop: head.length, prepend: put };
    }
    // No country has a code that begins with 0.
    if (sent.startsWith('0')) return null;
    return { drop: now.drop, prepend: `+${now.prepend}` };
  }
  if (form === 'any') return null;
  const bare = sent.replace(/^\+/, '');
  const country = plan?.countryCode ?? '';
  const national = country !== '' && bare.startsWith(country) ? country.length : 0;
  if (now.prepend.startsWith('+'))
    return {
      drop: now.drop,
      prepend: now.prepend.slice(1 + (now.prepend.slice(1).startsWith(country) ? national : 0)),
    };
  return { drop: now.drop + 1 + national, prepend: now.prepend };
}
