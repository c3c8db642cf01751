import { orList, type Desk, type Device, type Endpoint, type Estate, type Person } from '../../estate';
import { readCsv, type PlacedFault, type Table, type TableRow } from '../../formats';
import { MODELS, readHardwareAddress, showHardwareAddress } from '../phones';

/** What a column of a list of phones can mean. */
export const PHONE_FIELDS = ['address', 'model', 'person', 'name'] as const;
export type PhoneField = (typeof PHONE_FIELDS)[number];
export const PHONE_FIELD_NAMES: Record<PhoneField, string> = {
  address: 'MAC address',
  model: 'Model',
  person: 'Extension, name or shared desk',
  name: 'Name of the phone',
};
const HEADINGS: Record<PhoneField, readonly string[]> = {
  address: ['hardware address', 'mac', 'mac address', 'ethernet address', 'address', 'eui 48'],
  model: ['model', 'phone model', 'type', 'phone type'],
  person: [
    'extension',
    'ext',
    'desk',
    'shared desk',
    'extension, name or shared desk',
    'person',
    'user',
    'staff',
    'for',
    'owner',
    'extension or name',
  ],
  name: ['name', 'phone', 'phone name', 'label', 'place', 'where', 'name of the phone'],
};
const MOST_PHONES = 5000;

export interface ListedFault {
  readonly field: PhoneField;
  readonly message: string;
}
/** What becomes of one row of a list; `line` is its line in the file, from 1. */
export type ListedPhone = { readonly line: number; readonly address: string; readonly whose: string } & (
  | {
      readonly action: 'add' | 'change';
      readonly device: Device;
      readonly base: Device | null;
      /** The phone that stood there until now, and is nobody’s from then on. */
      readonly replaces: Device | null;
    }
  | { readonly action: 'same'; readonly device: Device }
  | { readonly action: 'refuse'; readonly faults: readonly ListedFault[] }
);
export type ReadPhoneList =
  | { readonly ok: true; readonly rows: readonly ListedPhone[] }
  | { readonly ok: false; readonly faults: readonly PlacedFault[] };

/** A telephone of somebody's own. A shared desk is whichever phone they sign on at, and comes by the desk's name. */
const isDeskKind = ({ kind }: Pick<Endpoint, 'kind'>): boolean => kind === 'desk' || kind === 'remote-desk';

const plain = (text: string) =>
  text
    .trim()
    .toLowerCase()
    .replace(/[\s_-]+/g, ' ');
/** Names of models without what people leave out or put in. */
const bare = (text: string) => text.toLowerCase().replace(/[^a-z0-9]/g, '');

type Columns = Partial<Record<PhoneField, number>>;
function columnsOf({ headings }: Table): Columns {
  const columns: Columns = {};
  for (const field of PHONE_FIELDS) {
    const at = headings.findIndex((heading) => HEADINGS[field].includes(plain(heading)));
    if (at >= 0) columns[field] = at;
  }
  return columns;
}

/** Reads rows of one list against an estate, each once. */
export function phoneReader(estate: Pick<Estate, 'people' | 'devices' | 'desks'>) {
  const devices = new Map((estate.devices ?? []).map((each) => [each.id, each]));
  const byAddress = new Map(
    (estate.devices ?? []).flatMap((each) =>
      each.macAddress === undefined ? [] : [[each.macAddress, each] as const],
    ),
  );
  const used = new Map(
    (estate.devices ?? []).flatMap((each) =>
      each.endpoint === undefined ? [] : [[each.endpoint, each.id] as const],
    ),
  );
  const seen = new Map<string, number>();
  const taken = new Map<string, number>();

  const deskNamed = (text: string): Desk | undefined =>
    (estate.desks ?? []).find(({ id, name }) => plain(name) === plain(text) || id === text.trim());

  /** The phone of a shared desk: another one in its place is the same thing of the list, with another address. */
  function forDesk(
    head: Pick<ListedPhone, 'line' | 'address' | 'whose'>,
    desk: Desk,
    given: { readonly address: string; readonly model: string; readonly name: string },
  ): ListedPhone {
    const refuse = (field: PhoneField, message: string): ListedPhone => ({
      ...head,
      action: 'refuse',
      faults: [{ field, message }],
    });
    const base = devices.get(desk.device);
    if (!base) return refuse('person', `the phone of ${desk.name} is none of the organisation’s`);
    if (taken.has(desk.device)) return refuse('person', `${desk.name} stands on another line already`);
    const other = byAddress.get(given.address);
    if (other && other.id !== base.id) return refuse('address', `is that of ${other.name} already`);
    taken.set(desk.device, head.line);
    const name = given.name || base.name;
    const device: Device = { ...base, name, model: given.model, macAddress: given.address };
    const isSame = base.name === name && base.model === given.model && base.macAddress === given.address;
    return isSame
      ? { ...head, action: 'same', device: base }
      : { ...head, action: 'change', device, base, replaces: null };
  }

  function personOf(text: string): Person | string {
    const wanted = plain(text);
    const byExtension = estate.people.filter(({ lines }) =>
      lines.some(({ extension }) => extension === text.trim()),
    );
    const found =
      byExtension.length > 0
        ? byExtension
        : estate.people.filter(({ id, name }) => plain(name) === wanted || id === text.trim());
    const [person] = found;
    if (!person) return `there is nobody with “${text.trim()}” as extension or name, and no such desk`;
    return found.length > 1 ? `${found.length} people are called ${person.name}: give the extension` : person;
  }

  /** Which of a person's phones it is: the one it is already, else one that no other phone is, else one of the others' places. */
  function endpointOf(person: Person, device: Device | undefined): Endpoint | undefined {
    const desks = person.endpoints.filter((each) => isDeskKind(each) && !taken.has(each.id));
    return (
      desks.find(({ id }) => id === device?.endpoint) ?? desks.find(({ id }) => !used.has(id)) ?? desks[0]
    );
  }

  return (line: number, cells: Readonly<Record<PhoneField, string>>): ListedPhone => {
    const faults: ListedFault[] = [];
    const address = readHardwareAddress(cells.address);
    const model = MODELS.find(({ id, name }) => [bare(id), bare(name)].includes(bare(cells.model)));
    const desk = deskNamed(cells.person);
    const person = cells.person.trim() === '' ? 'is missing' : desk ? null : personOf(cells.person);
    if (address === null)
      faults.push({
        field: 'address',
        message: cells.address.trim() === '' ? 'is missing' : 'must be twelve digits from 0 to 9 and A to F',
      });
    else if (seen.has(address))
      faults.push({ field: 'address', message: `stands on line ${seen.get(address)} already` });
    if (!model)
      faults.push({
        field: 'model',
        message:
          cells.model.trim() === ''
            ? 'is missing'
            : `“${cells.model.trim()}” is not in the catalogue: it has ${MODELS.map(({ name }) => name).join(', ')}`,
      });
    if (typeof person === 'string') faults.push({ field: 'person', message: person });
    const head = {
      line,
      address: address === null ? cells.address.trim() : showHardwareAddress(address),
      whose: typeof person === 'string' ? cells.person.trim() : (person?.name ?? desk?.name ?? ''),
    };
    if (address !== null && !seen.has(address)) seen.set(address, line);
    if (address === null || !model || typeof person === 'string')
      return { ...head, action: 'refuse', faults };
    if (desk && faults.length === 0)
      return forDesk(head, desk, { address, model: model.id, name: cells.name.trim() });
    if (!person) return { ...head, action: 'refuse', faults };
    const base = byAddress.get(address);
    const endpoint = endpointOf(person, base);
    if (faults.length > 0) return { ...head, action: 'refuse', faults };
    if (!endpoint) {
      faults.push({
        field: 'person',
        message: person.endpoints.some(isDeskKind)
          ? `the desk phones of ${person.name} stand on other lines already`
          : `${person.name} has no desk phone`,
      });
      return { ...head, action: 'refuse', faults };
    }
    taken.set(endpoint.id, line);
    const other = used.get(endpoint.id);
    const before = other === undefined || other === base?.id ? null : (devices.get(other) ?? null);
    const name = cells.name.trim() || base?.name || `${person.name}: ${endpoint.label}`;
    const device: Device = {
      ...(base ?? { id: freshId(address) }),
      name,
      model: model.id,
      macAddress: address,
      endpoint: endpoint.id,
    };
    const isSame = base?.name === name && base.model === model.id && base.endpoint === endpoint.id;
    return isSame
      ? { ...head, action: 'same', device: base }
      : { ...head, action: base ? 'change' : 'add', device, base: base ?? null, replaces: before };
  };

  function freshId(address: string): string {
    let id = `phone-${address.toLowerCase()}`;
    for (let n = 2; devices.has(id); n += 1) id = `phone-${address.toLowerCase()}-${n}`;
    return id;
  }
}

/** Reads a list of phones that are to are provisioned (RFC 4180, or another delimiter), row by row. */
export function readPhoneList(
  text: string,
  estate: Pick<Estate, 'people' | 'devices' | 'desks'>,
): ReadPhoneList {
  const read = readCsv(text, { columns: 50, rows: MOST_PHONES });
  if (!read.ok) return read;
  const columns = columnsOf(read.table);
  const missing = (['address', 'model', 'person'] as const).filter((field) => columns[field] === undefined);
  if (missing.length > 0)
    return {
      ok: false,
      faults: [
        {
          line: 1,
          column: 0,
          message: `No column is headed ${orList(missing.map((field) => `“${PHONE_FIELD_NAMES[field]}”`))}.`,
        },
      ],
    };
  const planRow = phoneReader(estate);
  const cellsOf = (row: TableRow) =>
    Object.fromEntries(
      PHONE_FIELDS.map((field) => {
        const at = columns[field];
        return [field, at === undefined ? '' : (row.cells[at] ?? '')];
      }),
    ) as Record<PhoneField, string>;
  return { ok: true, rows: read.table.rows.map((row) => planRow(row.line, cellsOf(row))) };
}
