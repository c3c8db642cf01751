import type { AnySchema } from 'yup';
import {
  accessNumberSchema,
  deskSchema,
  seatSchema,
  deviceSchema,
  diallingSchema,
  faultsOf,
  groupSchema,
  menuSchema,
  parts,
  permissionSchema,
  personSchema,
  promisesSchema,
  scheduleSchema,
  serverSchema,
  settingsSchema,
  siteSchema,
  statusSchema,
  templateSchema,
  trunkSchema,
  type Fault,
} from '../../core/estate';
import { isListKind, type EntryKind, type Identified } from '../../core/changes/slate';

const SCHEMAS: Record<EntryKind, AnySchema> = {
  person: personSchema,
  group: groupSchema,
  menu: menuSchema,
  schedule: scheduleSchema,
  status: statusSchema,
  template: templateSchema,
  permission: permissionSchema,
  trunk: trunkSchema,
  site: siteSchema,
  device: deviceSchema,
  server: serverSchema,
  desk: deskSchema,
  seat: seatSchema,
  access: accessNumberSchema,
  settings: settingsSchema,
  dialling: diallingSchema,
  promises: promisesSchema,
  'trunk-order': parts.requiredList(parts.requiredId()),
  // The route table is held against lists and hours by `checkTable`.
  routing: parts.anything(),
  list: parts.closed({
    id: parts.requiredId(),
    name: parts.requiredText(),
    // Long lists are looked through by `numberFaults`: a schema for each number would take long.
    numbers: parts.anything(),
  }),
};

const MOST_FAULTS = 20;
function numberFaults(numbers: unknown): readonly Fault[] {
  if (!Array.isArray(numbers)) return [{ path: 'numbers', message: 'must be a list' }];
  return numbers
    .flatMap((number: unknown, at) =>
      typeof number === 'string' && /^\+?\d{1,39}$/.test(number)
        ? []
        : [{ path: `numbers[${at}]`, message: 'must be digits, with or without a leading +' }],
    )
    .slice(0, MOST_FAULTS);
}

/** The faults in the form of an object of the estate, by itself. */
export function objectFaults(kind: EntryKind, id: string, value: unknown): readonly Fault[] {
  const form = faultsOf(SCHEMAS[kind], value);
  if (form.length > 0) return form;
  if (kind === 'list') return numberFaults((value as { numbers?: unknown }).numbers);
  return isListKind(kind) && (value as Identified).id !== id
    ? [{ path: 'id', message: 'cannot be changed' }]
    : [];
}
