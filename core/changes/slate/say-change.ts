import { showNumber } from '../../calls/dialling';
import { fieldsAt, type Field, type FieldsKind } from '../../estate';
import type { Names, ToldChange } from './names';

/** What a change is of: left out where only its path is known. */
type Kind = FieldsKind | undefined;

/** What the path goes through by name: rules, lines and phones by their ids, and not by their places. */
const namesIn = (path: string, names: Names): readonly string[] =>
  [...path.matchAll(/\[([^\]]+)\]/g)].flatMap(([, id]) => (id && !/^\d+$/.test(id) ? [names[id] ?? id] : []));
const isOrder = (path: string): boolean => /(^|\.)order$/.test(path);

/** A path of a change in the words of the trade: the thing, then the setting. */
export function sayPath(path: string, kind?: Kind, names: Names = {}): string {
  const field = fieldsAt(path, kind).at(-1);
  const last = path
    .replace(/\[[^\]]*\]/g, '')
    .split('.')
    .filter(Boolean)
    .at(-1);
  const says = isOrder(path) ? 'order' : (field?.says ?? last);
  return [namesIn(path, names).join(', '), says].filter(Boolean).join(': ');
}

const shorten = (text: string): string => (text.length > 80 ? `${text.slice(0, 79)}…` : text);
const NONE = 'none';

/** One value of a setting, by what the setting holds. */
function sayOne(value: unknown, field: Field | undefined, names: Names): string {
  if (value === undefined || value === null) return NONE;
  if (typeof value === 'boolean') return value ? 'on' : 'off';
  if (typeof value === 'number') {
    if (field?.holds === 'ms') return `${value / 1000} s`;
    if (field?.holds === 'share') return `${Math.round(value * 1000) / 10} %`;
    return String(value);
  }
  if (typeof value === 'string') {
    if (/^\+\d+$/.test(value)) return showNumber(value);
    if (field?.holds === undefined || field.holds === 'id') return names[value] ?? value;
    return field.holds === 'choice' ? value.replaceAll('-', ' ') : value;
  }
  if (Array.isArray(value))
    return shorten(value.map((each) => sayOne(each, field, names)).join(', ')) || NONE;
  return sayObject(value as Readonly<Record<string, unknown>>, field, names);
}

/** Every setting of an object that is set, in words, nothing shortened. */
export function saySettings(value: object, field: Field, names: Names): string {
  const fields = field.of?.() ?? {};
  return Object.entries(value)
    .filter(([key, each]) => each !== undefined && fields[key] !== undefined)
    .map(([key, each]) => `${fields[key]!.says} ${sayWhole(each, fields[key]!, names)}`)
    .join(', ');
}

function sayWhole(value: unknown, field: Field, names: Names): string {
  if (Array.isArray(value)) {
    const isPlain = value.every((each) => typeof each !== 'object');
    return value.map((each) => sayWhole(each, field, names)).join(isPlain ? ' / ' : '; ') || NONE;
  }
  if (typeof value === 'object' && value !== null && field.of) return `(${saySettings(value, field, names)})`;
  return sayOne(value, field, names);
}

/** An object by its name, or by what it is and leads to, or setting by setting. */
function sayObject(value: Readonly<Record<string, unknown>>, field: Field | undefined, names: Names): string {
  const { name, kind, person, number, group, menu, endpoint } = value;
  if (typeof name === 'string') return `“${name}”`;
  if (typeof kind === 'string' && !('label' in value)) {
    const whom = person ?? number ?? group ?? menu ?? endpoint;
    return [kind.replaceAll('-', ' '), whom === undefined ? '' : sayOne(whom, undefined, names)]
      .filter(Boolean)
      .join(' ');
  }
  const fields = field?.of?.() ?? {};
  return shorten(
    Object.entries(value)
      .filter(([, each]) => each !== undefined)
      .map(([key, each]) => `${fields[key]?.says ?? key} ${sayOne(each, fields[key], names)}`)
      .join(', '),
  );
}

/**
 * A value of a setting, short.
 * @param path where it stands, by which its unit is known
 * @param names of what it speaks of by id
 */
export const sayValue = (value: unknown, path: string, kind?: Kind, names: Names = {}): string =>
  sayOne(value, fieldsAt(path, kind).at(-1), names);

const isNamed = (value: unknown): boolean =>
  typeof value === 'string' ||
  (typeof value === 'object' && value !== null && typeof (value as { name?: unknown }).name === 'string');

/** Where something changed, in words; of a whole thing with a name that comes or goes, what it is. */
export function sayWhere({ path, before, after, names }: ToldChange, kind?: Kind): string {
  const says = fieldsAt(path, kind).at(-1)?.says;
  if (says && path.endsWith(']')) {
    if (before === undefined && isNamed(after)) return `new ${says}`;
    if (after === undefined && isNamed(before)) return `${says} taken out`;
  }
  return sayPath(path, kind, names);
}

/** What a setting was and what it becomes, in words. */
export const sayBoth = ({ path, before, after, names }: ToldChange, kind?: Kind): string =>
  `${sayValue(before, path, kind, names)} → ${sayValue(after, path, kind, names)}`;
