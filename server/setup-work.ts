import type { Wish } from '../core/changes/own';
import { afterStep, NOT_BEGUN, type Step } from '../core/devices/provisioning';
import type { Estate } from '../core/estate';
import type { Tx } from './db';
import { addRequest } from './own';
import { addEvent, addProvisioned, putProgress } from './provisioning';
import { putPhoneSetting } from './switchboard';

const MINUTE_MS = 60_000;
/** Where the demo's phones ask from: an address for documents (RFC 5737). */
const FROM = '192.0.2.44';

/** What `demo/work.ts` writes of it. */
export interface DemoInWork {
  readonly provisioned: readonly {
    readonly device: string;
    readonly isBare: boolean;
    readonly steps: readonly { readonly minutesAgo: number; readonly step: Step; readonly says: string }[];
  }[];
  readonly lost: string;
  readonly requests: readonly {
    readonly person: string;
    readonly hoursAgo: number;
    readonly wish: Wish;
    readonly note: string;
  }[];
}

/** What is in work at the demo organisation besides its slate: phones that set themselves up, one that is lost, requests. */
export async function demoInWork(tx: Tx, estate: Estate, work: DemoInWork, at: Date): Promise<void> {
  const ago = (minutes: number) => new Date(at.getTime() - minutes * MINUTE_MS);
  const devices = new Map((estate.devices ?? []).map((device) => [device.id, device]));
  for (const { device: id, isBare, steps } of work.provisioned) {
    const device = devices.get(id);
    if (device?.macAddress === undefined || device.endpoint === undefined) continue;
    await addProvisioned(tx, device.macAddress, id, 'set-up', ago(240));
    let progress = NOT_BEGUN;
    for (const { minutesAgo, step, says } of steps) {
      progress = afterStep(progress, step, ago(minutesAgo).getTime());
      await addEvent(tx, {
        address: device.macAddress,
        from: FROM,
        says,
        isKnown: true,
        at: ago(minutesAgo),
      });
    }
    // Which settings they have is not known: they are told of as changed once something is.
    await putProgress(tx, device.macAddress, { ...progress, serial: null });
    if (isBare) await putPhoneSetting(tx, { endpoint: device.endpoint, does: 'bare', answerAfterMs: null });
  }
  await putPhoneSetting(tx, { endpoint: work.lost, does: 'wrong-password', answerAfterMs: null });
  for (const { person, wish, note, hoursAgo } of work.requests)
    if (estate.people.some(({ id }) => id === person))
      await addRequest(tx, person, wish, note, ago(hoursAgo * 60));
}
