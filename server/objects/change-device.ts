import { isSame } from '../../core/editing';
import type { Device } from '../../core/estate';
import { changeEstate, putObject, readObject } from '../estate';
import type { Services } from '../http';
import { addRecord, type RecordKind } from '../record';

/** Changes a phone by what was done or said at it, as it is stored once nobody else can write, with a record of it. */
export async function changeDevice(
  services: Pick<Services, 'db' | 'store'>,
  id: string,
  change: (device: Device) => Device,
  { kind = 'object-changed', why = '' }: { readonly kind?: RecordKind; readonly why?: string } = {},
): Promise<void> {
  await changeEstate(services, async (tx, { countUp }) => {
    const before = (await readObject(tx, 'device', id))?.object as Device | undefined;
    const after = before && change(before);
    if (!before || isSame(before, after)) return;
    await countUp(true);
    await putObject(tx, 'device', id, after);
    await addRecord(tx, {
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
