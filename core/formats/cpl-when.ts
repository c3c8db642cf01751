import type { Person, Rule, When } from '../estate';
import { contentKey, type Element } from './cpl-xml';

/** Conditions of a script on addresses, as conditions of a rule; null where a rule cannot ask for them. */
/** Whether a switch picks out calls from outside: those that are neither withheld nor from the own domain. */
export function externalOnly(at: Element, otherwise: Element): { holds: Element; rest: Element } | null {
  const cases = at.children.filter(({ name }) => name !== 'otherwise');
  const [withheld] = cases;
  const [inner] = otherwise.children;
  if (cases.length !== 1 || withheld?.name !== 'not-present' || at.attributes.field !== 'origin') return null;
  if (inner?.name !== 'address-switch' || inner.attributes.field !== 'origin') return null;
  const [inside, more] = inner.children.filter(({ name }) => name !== 'otherwise');
  const holds = inner.children.find(({ name }) => name === 'otherwise');
  if (!inside || more || !holds || inner.attributes.subfield !== 'host') return null;
  if (inside.attributes['subdomain-of'] === undefined || contentKey(inside) !== contentKey(withheld))
    return null;
  return { holds, rest: withheld };
}

export const withCaller = (when: When, caller: NonNullable<When['caller']>): When | null =>
  when.caller ? null : { ...when, caller };

export function originWhen(when: When, { attributes }: Element, subfield: string | undefined): When | null {
  const { is, 'subdomain-of': below } = attributes;
  if (subfield === 'host' && below !== undefined) return withCaller(when, { class: 'internal' });
  const value = subfield === 'tel' ? (below ?? is) : subfield === 'user' ? is : telOf(is);
  return value !== undefined && /^\+?\d{1,20}$/.test(value)
    ? withCaller(when, { class: 'listed', numbers: [value] })
    : null;
}

/** The number or extension of an address as it stands whole. */
const telOf = (address: string | undefined): string | undefined =>
  address === undefined ? undefined : /^(?:tel:|sips?:)?(\+?\d+)(?:[@;].*)?$/i.exec(address)?.[1];

export function destinationWhen(person: Person, when: When, { attributes }: Element): When | null {
  const value = telOf(attributes.is);
  const lines = person.lines.filter(
    ({ extension, numbers }) => value !== undefined && (extension === value || numbers.includes(value)),
  );
  return lines.length === 0 || when.line ? null : { ...when, line: lines.map(({ id }) => id) };
}

/** Rules that do the same one after the other, for callers or lines that can stand in one list, as one rule. */
export function joined(rules: readonly Rule[]): Rule[] {
  const out: Rule[] = [];
  for (const rule of rules) {
    const before = out.at(-1);
    const both = before && sameBut(before, rule);
    if (both) out[out.length - 1] = both;
    else out.push(rule);
  }
  return out;
}

function sameBut(a: Rule, b: Rule): Rule | null {
  const rest = ({
    id: _id,
    name: _name,
    when: { line: _line, caller: _caller, ...when },
    ...treatment
  }: Rule) => JSON.stringify([when, treatment]);
  if (rest(a) !== rest(b)) return null;
  const [one, two] = [a.when, b.when];
  const sameCaller = JSON.stringify(one.caller) === JSON.stringify(two.caller);
  if (one.line && two.line && sameCaller)
    return { ...a, when: { ...one, line: [...new Set([...one.line, ...two.line])] } };
  if (one.caller?.class === 'listed' && two.caller?.class === 'listed' && !one.line && !two.line)
    return {
      ...a,
      when: {
        ...one,
        caller: {
          class: 'listed',
          numbers: [...new Set([...(one.caller.numbers ?? []), ...(two.caller.numbers ?? [])])],
        },
      },
    };
  return null;
}
