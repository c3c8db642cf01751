import { readNumber, showNumber } from '../../calls/dialling';
import { addPhone } from '../../editing';
import { isNumberKind, type Endpoint, type Estate, type Person } from '../../estate';
import { judgeWish, type Judged } from './own';
import type { OwnLimits } from './limits';

/** What comes of somebody dialling the code, or pressing the key, that switches their twinning. */
export type TwinningByCode =
  /** Their mobiles are switched. */
  | {
      readonly kind: 'switch';
      readonly on: boolean;
      readonly judged: Judged;
      readonly phones: readonly Endpoint[];
    }
  /** They have no mobile yet: its number is asked for. */
  | { readonly kind: 'ask-number' }
  | { readonly kind: 'add'; readonly number: string; readonly judged: Judged }
  | { readonly kind: 'not'; readonly why: string };

/** Their own phones of the public network: those that twinning is about. */
const twinsOf = ({ endpoints }: Person): readonly Endpoint[] =>
  endpoints.filter(({ kind, number }) => isNumberKind(kind) && number !== undefined);

const isRung = ({ plan }: Person, id: string): boolean =>
  [...plan.rules, plan.otherwise].some(({ stages }) =>
    stages.some(
      (stage) =>
        'ring' in stage && stage.ring.some(({ endpoint, enabled }) => endpoint === id && enabled !== false),
    ),
  );

/** The worst that a person is told of several wishes that are done together. */
function together(all: readonly Judged[], after: Person): Judged {
  const not = all.find(({ may }) => may === 'not');
  if (not) return not;
  const ask = all.find((each) => each.may === 'ask');
  return ask?.may === 'ask' ? { may: 'ask', after, why: ask.why } : { may: 'now', after };
}

/**
 * Twinning by a code or a key: off where any of the person's mobiles rings, else on; where they have none, its number
 * is asked for, and rings from then on with the first stage of what happens when nothing else fits.
 * @param typed the number, once it was asked for; in any form that the organisation dials
 * @param nowMs ms since 1970
 */
export function twinningByCode(
  estate: Estate,
  person: Person,
  limits: OwnLimits,
  typed: string | undefined,
  nowMs: number,
): TwinningByCode {
  const twins = twinsOf(person);
  if (twins.length > 0) {
    const on = !twins.some(({ id }) => isRung(person, id));
    const judged: Judged[] = [];
    let after = person;
    for (const { id } of twins) {
      const each = judgeWish(estate, after, { kind: 'twinning', endpoint: id, on }, limits, nowMs);
      judged.push(each);
      if (each.may !== 'not') after = each.after;
    }
    return { kind: 'switch', on, judged: together(judged, after), phones: twins };
  }
  if (typed === undefined) return { kind: 'ask-number' };
  const read = readNumber(typed, estate.dialling);
  if (!read.ok) return { kind: 'not', why: `${typed} is no number that can be called.` };
  const added = addPhone(person, { kind: 'mobile', label: 'Mobile', number: read.e164 }, 'otherwise');
  const mobile = added.endpoints.at(-1)!;
  // Judged as a number that is set, by what the person may set for their phones.
  const judged = judgeWish(
    estate,
    added,
    { kind: 'number', endpoint: mobile.id, number: read.e164 },
    limits,
    nowMs,
  );
  return { kind: 'add', number: showNumber(read.e164), judged };
}
