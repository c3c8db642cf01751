import type { Device, Estate } from '../../core/estate';
import type { ListedPhone } from '../../core/devices/provisioning';
import type { Queryable } from '../db';
import { changeEstate, objectFaults, putObject } from '../estate';
import { refusal } from '../base';
import type { SignedIn } from '../http';
import { putPhoneSetting } from '../switchboard';
import { addRecord } from '../record';
import { addProvisioned, readProvisioned } from './queries';
import { forget, registersAs } from './settings';

/** Lets a phone ask for its settings, from the beginning; its stand-in is bare until it has set itself up. */
export async function enrol(
  db: Queryable,
  { account, services }: SignedIn,
  estate: Pick<Estate, 'desks'>,
  device: Device,
): Promise<void> {
  const { macAddress } = device;
  const endpoint = registersAs(estate, device);
  if (macAddress === undefined) throw refusal(409, `${device.name} has no MAC address yet.`);
  if (endpoint === undefined) throw refusal(409, `${device.name} is nobody’s phone yet.`);
  await forget(db, macAddress);
  await addProvisioned(db, macAddress, device.id, account.name, services.now());
  await putPhoneSetting(db, { endpoint, does: 'bare', answerAfterMs: null });
  await addRecord(db, { who: account.name, kind: 'provisioning-added', subject: device.name });
}

/** Takes a phone from whoever had it, for another one comes in its place. */
async function putAway(db: Queryable, who: string, before: Device): Promise<void> {
  const { endpoint: _was, ...after } = before;
  await putObject(db, 'device', before.id, after);
  await addRecord(db, {
    who,
    kind: 'object-changed',
    subject: before.name,
    detail: 'device',
    why: 'another phone in its place',
    before,
    after,
  });
}

/** Writes the phones of a list and lets all of them ask: all in one transaction, or nothing. */
export async function takeList(context: SignedIn, rows: readonly ListedPhone[]): Promise<readonly Device[]> {
  const { account, services } = context;
  const { estate } = await services.store.current();
  const taken = rows.filter((row) => row.action !== 'refuse');
  for (const { device } of taken) {
    const faults = objectFaults('device', device.id, device);
    if (faults.length > 0) throw refusal(400, `${device.name} is not right.`, { faults });
  }
  await changeEstate(services, async (db, { countUp }) => {
    if (taken.some(({ action }) => action !== 'same')) await countUp(true);
    const listed = new Set((await readProvisioned(db)).map(({ address }) => address));
    for (const row of taken) {
      // Read in again, a list leaves those alone that are on it already.
      if (row.action === 'same' && listed.has(row.device.macAddress ?? '')) continue;
      if (row.action !== 'same') {
        if (row.replaces) await putAway(db, account.name, row.replaces);
        await putObject(db, 'device', row.device.id, row.device);
        await addRecord(db, {
          who: account.name,
          kind: row.base ? 'object-changed' : 'object-added',
          subject: row.device.name,
          detail: 'device',
          ...(row.base ? { before: row.base } : {}),
          after: row.device,
        });
      }
      await enrol(db, context, estate, row.device);
    }
  });
  await services.phones.refresh();
  return taken.map(({ device }) => device);
}
