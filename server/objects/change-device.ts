import { differences, type Device } from '../../core/estate';
import { inTransaction } from '../db';
import { nextRevision } from '../estate/queries';
import type { Services } from '../http/routes';
import { addRecord, type RecordKind } from '../record/queries';
import { putObject, readObject } from './queries';

/** Changes a phone by what was done or said at it, as it is stored once nobody else can write, with a record of it. */
export async function changeDevice(
  { db }: Pick<Services, 'db'>,
  id: string,
  change: (device: Device) => Device,
  { kind = 'object-changed', why = '' }: { readonly kind?: RecordKind; readonly why?: string } = {},
): Promise<void> {
  await inTransaction(db, async (connection) => {
    await nextRevision(connection, true);
    const before = (await readObject(connection, 'device', id))?.object as Device | undefined;
    const after = before && change(before);
    if (!before || differences(before, after).length === 0) return;
    await putObject(connection, 'device', id, after);
    await addRecord(connection, {
      who: 'the phone itself',
      kind,
      subject: before.name,
      detail: 'device',
      why,
      before,
      after,
    });
  });
}
