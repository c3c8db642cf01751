import type { E164, Estate, Person } from '../estate';
import { carefulTarget } from './edit';
import { startFrom, startFromColleague } from './template';

/** What somebody new is given; everything else can be set on their page. */
export interface NewPerson {
  readonly name: string;
  readonly extension: string;
  readonly direct?: E164;
  readonly mobile?: E164;
  readonly status: string;
  readonly permission: string;
  /** The template that their plan is started from, or else a colleague whose plan they get. */
  readonly template?: string;
  readonly colleague?: string;
}

/** A name as a part of ids: lower case letters and digits without accents, joined by hyphens. */
export const slug = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-|-$/g, '');

const PARTS = ['', '-line', '-desk', '-mobile', '-home'];

/** Gives out ids for people who are added: ones that nobody has, nor a line or phone, with all that comes with them. */
export function personIds({ people }: Pick<Estate, 'people'>): (name: string, extension: string) => string {
  const taken = new Set(
    people.flatMap((each) => [each.id, ...[...each.lines, ...each.endpoints].map(({ id }) => id)]),
  );
  const isFree = (id: string) => PARTS.every((part) => !taken.has(`${id}${part}`));
  return (name, extension) => {
    const base = slug(name).slice(0, 60) || 'person';
    let id = isFree(base) ? base : `${base}-${extension}`;
    for (let n = 2; !isFree(id); n += 1) id = `${base}-${extension}-${n}`;
    taken.add(id);
    return id;
  };
}

/** What somebody begins with, before anything of a plan is chosen. */
export interface Beginning {
  readonly id: string;
  readonly name: string;
  readonly extension: string;
  readonly direct?: E164 | undefined;
  readonly mobile?: E164 | undefined;
  readonly home?: E164 | undefined;
  readonly status: string;
  readonly permission: string;
}

/**
 * Somebody who begins with a line and a desk phone that rings for 25 s, then voicemail. A mobile rings with it, or
 * stands ready, switched off; a landline is theirs and rings nowhere yet.
 */
export function beginningPerson(given: Beginning, mobileRings: boolean): Person {
  const { id, name, extension, direct, mobile, home, status, permission } = given;
  const desk = `${id}-desk`;
  return {
    id,
    name,
    status,
    permission,
    maxCalls: 2,
    lines: [{ id: `${id}-line`, extension, numbers: direct === undefined ? [] : [direct] }],
    endpoints: [
      { id: desk, label: 'Desk phone', kind: 'desk' },
      ...(mobile === undefined
        ? []
        : [{ id: `${id}-mobile`, label: 'Mobile', kind: 'mobile' as const, number: mobile }]),
      ...(home === undefined
        ? []
        : [{ id: `${id}-home`, label: 'Home', kind: 'landline' as const, number: home }]),
    ],
    plan: {
      rules: [],
      otherwise: {
        stages: [
          {
            ring: [
              { endpoint: desk },
              ...(mobile === undefined
                ? []
                : [{ ...carefulTarget(`${id}-mobile`), ...(mobileRings ? {} : { enabled: false }) }]),
            ],
            forMs: 25_000,
          },
        ],
        ending: { kind: 'mailbox' },
      },
    },
  };
}

/**
 * The next free extension: the smallest above the smallest that a person has, which nothing else has and which does
 * not begin like the outside code. Null: there is none of the usual length.
 */
export function nextExtension({ dialling, people, groups, menus }: Estate): string | null {
  const { extensionDigits: length, outsideCode } = dialling;
  const own = people.flatMap(({ lines }) => lines.map(({ extension }) => extension));
  const taken = new Set([...own, ...[...groups, ...menus].map(({ extension }) => extension)]);
  const usual = own.filter((each) => each.length === length).map(Number);
  const least = 10 ** (length - 1);
  const from = usual.length > 0 ? Math.min(...usual) : least;
  for (let n = Math.max(from, least); n < 10 ** length; n += 1) {
    const extension = String(n);
    if (!taken.has(extension) && !(outsideCode !== '' && extension.startsWith(outsideCode))) return extension;
  }
  return null;
}

/**
 * Somebody new: a desk phone that rings for 25 s, with it the mobile if there is one, then voicemail; or the plan of
 * a template or colleague, as far as they have what it rings.
 */
export function newPerson(estate: Estate, given: NewPerson): Person {
  const id = personIds(estate)(given.name, given.extension);
  const person = beginningPerson({ ...given, id }, true);
  const template = estate.templates?.find((each) => each.id === given.template);
  if (template) return startFrom(person, template);
  const colleague = estate.people.find((each) => each.id === given.colleague);
  return colleague ? startFromColleague(person, colleague) : person;
}
