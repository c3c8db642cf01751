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

/** An id for somebody new that neither anybody has nor a line or phone; so are the ids of what comes with it. */
function freeId(estate: Estate, name: string, extension: string): string {
  const taken = new Set(
    estate.people.flatMap((each) => [each.id, ...[...each.lines, ...each.endpoints].map(({ id }) => id)]),
  );
  const isFree = (id: string) => PARTS.every((part) => !taken.has(`${id}${part}`));
  const base = slug(name).slice(0, 60) || 'person';
  if (isFree(base)) return base;
  for (let n = 1; ; n += 1) {
    const id = n === 1 ? `${base}-${extension}` : `${base}-${extension}-${n}`;
    if (isFree(id)) return id;
  }
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
  const { name, extension, direct, mobile, status, permission } = given;
  const id = freeId(estate, name, extension);
  const person: Person = {
    id,
    name,
    status,
    permission,
    maxCalls: 2,
    lines: [{ id: `${id}-line`, extension, numbers: direct === undefined ? [] : [direct] }],
    endpoints: [
      { id: `${id}-desk`, label: 'Desk phone', kind: 'desk' },
      ...(mobile === undefined
        ? []
        : [{ id: `${id}-mobile`, label: 'Mobile', kind: 'mobile' as const, number: mobile }]),
    ],
    plan: {
      rules: [],
      otherwise: {
        stages: [
          {
            ring: [
              { endpoint: `${id}-desk` },
              ...(mobile === undefined ? [] : [carefulTarget(`${id}-mobile`)]),
            ],
            forMs: 25_000,
          },
        ],
        ending: { kind: 'mailbox' },
      },
    },
  };
  const template = estate.templates?.find((each) => each.id === given.template);
  if (template) return startFrom(person, template);
  const colleague = estate.people.find((each) => each.id === given.colleague);
  return colleague ? startFromColleague(person, colleague) : person;
}
