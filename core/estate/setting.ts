/**
 * Where a setting stands in an estate: which object, and the way into it. Made here alone and read here alone; its text
 * (`people[ines].plan.rules[r-night].stages[0]`) is what traces, findings and files carry, and a key in tables.
 */
declare const isSetting: unique symbol;
export type SettingRef = string & { readonly [isSetting]: true };

/** The lists of an estate whose objects have settings. */
export const SETTING_LISTS = [
  'people',
  'groups',
  'menus',
  'schedules',
  'statuses',
  'templates',
  'permissions',
  'trunks',
  'sites',
  'devices',
  'servers',
  'desks',
  'seats',
  'accessNumbers',
] as const;
export type SettingList = (typeof SETTING_LISTS)[number];

/** A step inwards: a field, or one entry of a field, by its id or its place from 0. */
export type SettingStep = string | readonly [field: string, at: string | number];

/** No setting: of what nobody has set. */
export const NO_SETTING = '' as SettingRef;

// Ids are free text: what would end one is written as in URIs (RFC 3986, section 2.1).
const isPlain = (id: string): boolean => !id.includes(']') && !id.includes('[') && !id.includes('%');
const written = (at: string | number): string | number =>
  typeof at === 'number' || isPlain(at) ? at : at.replace(/[[\]%]/g, encodeURIComponent);

/** One entry of a list innerOf a setting. @param at its id, or its place from 0 */
export const entryOf = (setting: SettingRef, field: string, at: string | number): SettingRef =>
  `${setting}.${field}[${written(at)}]` as SettingRef;

/** A field of a setting. */
export const fieldOf = (setting: SettingRef, field: string): SettingRef =>
  `${setting}.${field}` as SettingRef;

/** A setting further in. */
export const innerOf = (setting: SettingRef, ...steps: readonly SettingStep[]): SettingRef =>
  steps.reduce<SettingRef>(
    (at, step) => (typeof step === 'string' ? fieldOf(at, step) : entryOf(at, step[0], step[1])),
    setting,
  );

/** A setting of one object. */
export const settingOf = (list: SettingList, id: string, ...steps: readonly SettingStep[]): SettingRef =>
  innerOf(`${list}[${written(id)}]` as SettingRef, ...steps);

/** A setting of the organisation itself. */
export const organisationSetting = (
  field: 'dialling' | 'settings',
  ...steps: readonly SettingStep[]
): SettingRef => innerOf(field as SettingRef, ...steps);

/** A setting taken apart. */
export interface Setting {
  /** Whose it is: an object, or null for the organisation itself. */
  readonly of: { readonly list: SettingList; readonly id: string } | null;
  readonly steps: readonly { readonly field: string; readonly at: string | null }[];
}

const STEP = /(?:^|\.)(\w+)(?:\[([^[\]]*)\])?/gy;
const isList = (field: string): field is SettingList => SETTING_LISTS.some((each) => each === field);

/** Takes a setting apart. @returns null: the text is none */
export function readSetting(text: string): Setting | null {
  const steps: { field: string; at: string | null }[] = [];
  STEP.lastIndex = 0;
  let end = 0;
  for (let found = STEP.exec(text); found; found = STEP.exec(text)) {
    const [, field = '', at] = found;
    steps.push({ field, at: at === undefined ? null : decoded(at) });
    end = STEP.lastIndex;
  }
  const [first, ...rest] = steps;
  if (!first || end !== text.length) return null;
  return first.at !== null && isList(first.field)
    ? { of: { list: first.field, id: first.at }, steps: rest }
    : { of: null, steps };
}

function decoded(at: string): string {
  try {
    return decodeURIComponent(at);
  } catch {
    return at;
  }
}

/** Where a setting of an object stands within it, as text. */
export const insideOf = (setting: SettingRef): string => setting.replace(/^\w+\[[^\]]*\]\./, '');
