import { ESTATE_FORMAT, type Dialling, type Estate, type WeeklySpan } from '../estate';

/** What an organisation begins with; all of it can be changed later. */
export interface OrganisationBeginning {
  readonly name: string;
  /** ISO 3166-1 alpha-2. */
  readonly country: string;
  /** IANA zone. */
  readonly timeZone: string;
  /** Dialled before outside numbers; may be empty. */
  readonly outsideCode: string;
  readonly areaCodes: readonly string[];
  readonly extensionDigits: number;
  readonly trunk: { readonly name: string; readonly channels: number };
  /** Office hours from Monday to Friday, "HH:MM". */
  readonly opens: string;
  readonly closes: string;
}

/**
 * Prefixes before national and international numbers, by country, where they are not 0 and 00 (ITU-T E.164, list of
 * dialling procedures).
 */
const PREFIXES: Readonly<Record<string, readonly [national: string, international: string]>> = {
  AU: ['0', '0011'],
  CA: ['1', '011'],
  CZ: ['', '00'],
  DK: ['', '00'],
  ES: ['', '00'],
  GR: ['', '00'],
  HK: ['', '001'],
  IT: ['', '00'],
  JP: ['0', '010'],
  LU: ['', '00'],
  MT: ['', '00'],
  NO: ['', '00'],
  PL: ['', '00'],
  PT: ['', '00'],
  SG: ['', '000'],
  US: ['1', '011'],
};

/** What is dialled before a national and before an international number of a country. */
export const prefixesOf = (country: string): Pick<Dialling, 'nationalPrefix' | 'internationalPrefix'> => {
  const [nationalPrefix, internationalPrefix] = PREFIXES[country] ?? ['0', '00'];
  return { nationalPrefix, internationalPrefix };
};

/** An organisation without anything: what a database holds before anybody has begun. */
export const emptyEstate = (): Estate => ({
  format: ESTATE_FORMAT,
  name: 'New organisation',
  timeZone: 'UTC',
  dialling: {
    country: 'CA',
    areaCodes: [],
    outsideCode: '9',
    extensionDigits: 4,
    ...prefixesOf('CA'),
  },
  permissions: [],
  trunks: [],
  schedules: [],
  statuses: [],
  people: [],
  groups: [],
  menus: [],
});

/** Whether nothing was begun yet: no people, and nothing that people need. */
export const isUnbegun = ({ people, permissions, statuses, trunks }: Estate): boolean =>
  people.length + permissions.length + statuses.length + trunks.length === 0;

/** An organisation to which people can be added: a trunk, two permissions, four statuses, office hours, two promises. */
export function begunEstate(given: OrganisationBeginning): Estate {
  const { name, country, timeZone, outsideCode, areaCodes, extensionDigits, trunk, opens, closes } = given;
  const weekly: readonly WeeklySpan[] = [
    { days: ['mon', 'tue', 'wed', 'thu', 'fri'], from: opens, to: closes },
  ];
  return {
    ...emptyEstate(),
    name,
    timeZone,
    dialling: { country, areaCodes, outsideCode, extensionDigits, ...prefixesOf(country) },
    permissions: [
      { id: 'national', name: 'Inside the country', allow: ['local', 'national', 'mobile', 'toll-free'] },
      {
        id: 'everywhere',
        name: 'Everywhere but premium',
        allow: ['local', 'national', 'mobile', 'toll-free', 'international'],
      },
    ],
    trunks: [
      {
        id: 'main',
        name: trunk.name,
        channels: trunk.channels,
        carries: ['local', 'national', 'mobile', 'toll-free', 'premium', 'international'],
      },
    ],
    schedules: [{ id: 'office', name: 'Office hours', timeZone, weekly }],
    statuses: [
      { id: 'at-work', name: 'At work' },
      { id: 'away', name: 'Away' },
      { id: 'on-leave', name: 'On leave' },
      { id: 'left', name: 'Left' },
    ],
    promises: [
      { id: 'no-carrier-voicemail', promise: { kind: 'no-carrier-voicemail' } },
      { id: 'no-loop', promise: { kind: 'no-loop' } },
    ],
  };
}
