import type { AddedPhone, RemovedPhone } from '../../api/people';
import { removePhone } from '../../core/changes/leaver';
import { addPhone, freeId, phoneId } from '../../core/editing';
import {
  ENDPOINT_KINDS,
  isNumberKind,
  parts,
  type Device,
  type EndpointKind,
  type Fault,
  type Person,
} from '../../core/estate';
import { readNumber } from '../../core/calls/dialling';
import { modelOf, readHardwareAddress } from '../../core/devices/phones';
import { notRight, refusal } from '../base';
import { changeEstate, loadPerson, objectFaults, personFaults, putObject } from '../estate';
import { checkedBody, type Route, type Services } from '../http';
import { addRecord, filterRecord } from '../record';
import { writePerson } from './change';

/** A phone that is given to somebody, with the telephone that it is, if it is one on a desk. */
export interface GivenPhone {
  readonly kind: EndpointKind;
  readonly label: string;
  readonly number?: string;
  readonly uri?: string;
  /** The treatment in which it rings with the first step; left out: it rings nowhere yet. */
  readonly rings?: string;
  readonly model?: string;
  readonly mac?: string;
  readonly site?: string;
}

const schema = parts.closed<GivenPhone>({
  kind: parts.oneOf(ENDPOINT_KINDS).required('is missing'),
  label: parts.text(120).trim().required('is missing'),
  number: parts.text(60),
  uri: parts.text(200),
  rings: parts.text(120),
  model: parts.text(120),
  mac: parts.text(40),
  site: parts.text(120),
});

/** Where a fault of the phone that was added shows in what was sent. */
const asSent = (fault: Fault): Fault => ({
  ...fault,
  path: /^person\.endpoints\[\d+\]\.(\w+)/.exec(fault.path)?.[1] ?? fault.path,
});

/** Gives somebody a phone and, where a model is named, the telephone that it is, in one go. */
export const givePhone = (
  services: Pick<Services, 'db' | 'store' | 'now'>,
  who: string,
  id: string,
  given: GivenPhone,
): Promise<AddedPhone> =>
  changeEstate(services, async (tx, held) => {
    const { live } = held;
    const stored = await loadPerson(tx, id);
    if (!stored) throw refusal(404, 'There is no such person.');
    const { estate } = live;
    const faults: Fault[] = [];
    const number =
      isNumberKind(given.kind) && given.number !== undefined
        ? readNumber(given.number, estate.dialling)
        : null;
    if (number?.ok === false) faults.push({ path: 'number', message: number.reason });
    const model = given.model === undefined ? undefined : modelOf(given.model);
    if (given.model !== undefined && !model) faults.push({ path: 'model', message: 'is no known model' });
    const mac = given.mac?.trim() ? readHardwareAddress(given.mac) : undefined;
    if (mac === null) faults.push({ path: 'mac', message: 'must be twelve digits from 0 to 9 and A to F' });
    const holder = mac ? estate.devices?.find((each) => each.macAddress === mac) : undefined;
    if (holder) faults.push({ path: 'mac', message: `belongs to ${holder.name} already` });
    if (given.site !== undefined && !estate.sites?.some((each) => each.id === given.site))
      faults.push({ path: 'site', message: 'is not there any more' });
    const isRung = given.rings === undefined || given.rings === 'otherwise';
    if (!isRung && !stored.person.plan.rules.some((rule) => rule.id === given.rings))
      faults.push({ path: 'rings', message: 'is a rule that is not there any more' });
    if (faults.length > 0) throw notRight(faults);
    const endpoint = phoneId(stored.person, given.kind);
    const after = addPhone(
      stored.person,
      {
        kind: given.kind,
        label: given.label.trim(),
        ...(number?.ok ? { number: number.e164 } : {}),
        ...(given.uri === undefined ? {} : { uri: given.uri.trim() }),
      },
      given.rings ?? null,
    );
    const wrong = personFaults(live, after, id);
    if (wrong.length > 0) throw notRight(wrong.map(asSent));
    const told = { who, kind: 'person-changed' as const };
    await writePerson(tx, held, stored.person, after, told, services.now(), model !== undefined);
    if (!model) return { endpoint, device: null };
    const device = freeId(
      endpoint,
      (live.estate.devices ?? []).map((each) => each.id),
    );
    const thing: Device = {
      id: device,
      name: `${given.label.trim()} of ${after.name}`,
      model: model.id,
      endpoint,
      ...(mac ? { macAddress: mac } : {}),
      ...(given.site === undefined ? {} : { site: given.site }),
    };
    const form = objectFaults('device', device, thing);
    if (form.length > 0) throw notRight(form);
    await putObject(tx, 'device', device, thing);
    await addRecord(tx, { who, kind: 'object-added', subject: thing.name, detail: 'device', after: thing });
    return { endpoint, device };
  });

/** So many of the latest entries about somebody are looked through for phones that were removed. */
const LOOKED_AT = 500;
const speaksOf = (thing: unknown, endpoint: string): boolean =>
  thing !== undefined && JSON.stringify(thing).includes(JSON.stringify(endpoint));

/** The phones that were taken from somebody and are nobody's now, the latest first, with what would bring each back. */
async function removedPhones(services: Services, id: string): Promise<readonly RemovedPhone[]> {
  const { finder } = await services.store.current();
  const found = new Map<string, RemovedPhone>();
  for (const entry of await filterRecord(services.db, { person: id }, LOOKED_AT)) {
    const [before, after] = [entry.before, entry.after] as [Person | undefined, Person | undefined];
    for (const endpoint of before?.endpoints ?? []) {
      if (!after || found.has(endpoint.id) || finder.ownerOf(endpoint.id)) continue;
      if (after.endpoints.some((each) => each.id === endpoint.id)) continue;
      // Where it was removed by a slate, whatever else of that slate let go of it comes back with it.
      const along =
        entry.slateId === null
          ? [entry]
          : (await filterRecord(services.db, { slate: entry.slateId }, LOOKED_AT)).filter(
              (each) => speaksOf(each.before, endpoint.id) && !speaksOf(each.after, endpoint.id),
            );
      found.set(endpoint.id, {
        endpoint: endpoint.id,
        label: endpoint.label,
        kind: endpoint.kind,
        at: entry.at,
        who: entry.who,
        entries: along.map((each) => each.id),
      });
    }
  }
  return [...found.values()];
}

export const phoneRoutes: readonly Route[] = [
  {
    method: 'GET',
    path: '/api/people/:id/removed-phones',
    roles: ['specialist'],
    handle: async ({ services, params }) => ({
      body: { phones: await removedPhones(services, params.id ?? '') },
    }),
  },
  {
    method: 'POST',
    path: '/api/people/:id/phones',
    roles: ['specialist'],
    handle: async ({ services, account, params, body }) => ({
      status: 201,
      body: await givePhone(services, account.name, params.id ?? '', checkedBody<GivenPhone>(body, schema)),
    }),
  },
  {
    /** What a phone leaves behind if it is removed, and the changes that take it out everywhere, for a slate. */
    method: 'GET',
    path: '/api/people/:id/phones/:endpoint/removal',
    roles: ['specialist'],
    handle: async ({ services, params }) => {
      const { estate, finder } = await services.store.current();
      const endpoint = params.endpoint ?? '';
      const removal = finder.ownerOf(endpoint)?.id === params.id ? removePhone(estate, endpoint) : null;
      if (!removal) throw refusal(404, 'There is no such phone.');
      return { body: removal };
    },
  },
];
