import { formFaults, type EstateOrFaults } from './schema';
import { pathIn, withNewNames } from './older-names';
import { referenceFaults } from './references';
import type { Estate } from './types';

export { LayeredMap } from './layered';
export { onceFor } from './once-for';
export { peopleIn, personIn, placesOf, withOthers } from './people-at';
export * from './types';
export * from './organisation-types';
export * from './civic-types';
export * from './desk-types';
export * from './seat-types';
export * from './access-types';
export * from './device-types';
export * from './network-types';
export { addressBook, goingRound, isBlockRule, isIpv4, isPortSpan, portSpan } from './network-texts';
export { appPathSchema, boxSchema, networkPhoneSchema, pathSchema, serverSchema } from './network-schema';
export { isCidr } from './civic-schema';
export { accessNumberSchema } from './access-schema';
export { deskSchema, MOST_PLACES } from './desk-schema';
export { seatPhone, seatSchema } from './seat-schema';
export { deviceSchema, MOST_KEYS, siteSchema } from './device-schema';
export * from './defaults';
export {
  diallingSchema,
  faultsOf,
  groupSchema,
  menuSchema,
  permissionSchema,
  personSchema,
  scheduleSchema,
  settingsSchema,
  statusSchema,
  templateSchema,
  trunkSchema,
  type EstateOrFaults,
} from './schema';
export { manyFormFaults } from './alike';
export { planSchema } from './plan-schema';
export { promisesSchema } from './promise-schema';
export { knownIds, type KnownIds } from './known-ids';
export { personReferenceFaults, promiseListFaults, referenceFaults } from './references';
import * as parts from './yup-parts';
export { parts };

/**
 * Reads a value as an estate file (`hostler-estate/1`): first its form, then, if that is right, what its
 * objects refer to. Older names are read as the new ones; faults name what stands in the file.
 */
export function readEstate(value: unknown): EstateOrFaults {
  const estate = withNames(withNewNames(value));
  const form = formFaults(estate);
  const faults = form.length > 0 ? form : referenceFaults(estate as Estate);
  return faults.length > 0
    ? { ok: false, faults: faults.map((fault) => ({ ...fault, path: pathIn(value, fault.path) })) }
    : { ok: true, estate: estate as Estate };
}

/** Access numbers that a file gives no name are called by what is dialled. */
function withNames(value: unknown): unknown {
  if (!parts.isObject(value) || !Array.isArray(value.accessNumbers)) return value;
  const accessNumbers = value.accessNumbers.map((each: unknown) =>
    parts.isObject(each) && each.name === undefined && typeof each.number === 'string'
      ? { ...each, name: each.number }
      : each,
  );
  return { ...value, accessNumbers };
}

/** A fault as one line: `people[3].name: is missing`. */
export const faultLine = (fault: { path: string; message: string }): string =>
  fault.path ? `${fault.path}: ${fault.message}` : fault.message;
export * from './endings';
export * from './map-plan';
export { FIELDS, fieldsAt, isFieldsKind, type FieldsKind } from './fields';
export type { Field, Fields, Holds } from './fields/kinds';
export { isPlace, PLACE_KINDS, placeWords, type Place } from './places';
export { readKept, withNewNames } from './older-names';
export { andList, capital, orList } from './listed';
export * from './table-types';
export { isObjectKind, OBJECT_KINDS, OBJECT_LISTS, type ObjectKind } from './lists';
export type { E164, Ms } from './units';
export {
  entryOf,
  fieldOf,
  innerOf,
  insideOf,
  NO_SETTING,
  organisationSetting,
  readSetting,
  SETTING_LISTS,
  settingOf,
  type Setting,
  type SettingList,
  type SettingRef,
  type SettingStep,
} from './setting';
