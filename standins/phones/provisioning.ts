import { createHash } from 'node:crypto';
import { request as httpRequest } from 'node:http';
import { request as httpsRequest } from 'node:https';
import { URL } from 'node:url';
import { readSettings, type PhoneSettings } from '../../core/devices/provisioning';

/** A phone as it comes out of its box, and what somebody types at it. */
export interface ProvisioningOrder {
  readonly endpoint: string;
  /** Twelve hexadecimal digits. */
  readonly macAddress: string;
  readonly model: string;
  readonly firmware: string;
  readonly form: 'json' | 'xml';
  /** Where the service is that it asks. */
  readonly url: string;
  /** The certificate of that service, in PEM, where it is asked over TLS. */
  readonly ca?: string;
  /** What it shows of itself over TLS. */
  readonly certificate?: { readonly key: string; readonly cert: string };
  /** The code or PIN that is typed. */
  readonly typed?: string;
  /** What it was given before, if it has been set up. */
  readonly settings?: PhoneSettings;
}

export type Provisioning =
  | { readonly ok: true; readonly settings: PhoneSettings; readonly firmware: string }
  | { readonly ok: false; readonly why: string };

interface Reply {
  readonly status: number;
  readonly body: Buffer;
}

const TIMEOUT_MS = 10_000;
const MOST_BYTES = 64 << 20;
/** It asks, loads what is newer, and asks again; more rounds than these mean that it goes round. */
const MOST_ROUNDS = 4;

export interface ProvisioningMeans {
  /** The phone's own address, from which it asks. */
  readonly from: string;
  readonly signal: AbortSignal;
  /** What somebody who stands by would see. */
  readonly onStep?: (says: string) => void;
}

function ask(
  order: ProvisioningOrder,
  { from, signal }: ProvisioningMeans,
  method: 'GET' | 'POST',
  path: string,
  headers: Readonly<Record<string, string>>,
  body = '',
): Promise<Reply> {
  const url = new URL(path, order.url);
  const isTls = url.protocol === 'https:';
  return new Promise((resolve, reject) => {
    const request = (isTls ? httpsRequest : httpRequest)(
      url,
      {
        method,
        localAddress: from,
        signal,
        timeout: TIMEOUT_MS,
        agent: false,
        headers: { 'User-Agent': `Stand-in ${order.model}/${order.firmware}`, ...headers },
        ...(isTls ? { ca: order.ca, ...order.certificate } : {}),
      },
      (response) => {
        const parts: Buffer[] = [];
        let size = 0;
        response.on('data', (part: Buffer) => {
          size += part.length;
          if (size > MOST_BYTES) request.destroy(new Error('the answer is too long'));
          else parts.push(part);
        });
        response.on('end', () => resolve({ status: response.statusCode ?? 0, body: Buffer.concat(parts) }));
        response.on('error', reject);
      },
    );
    request.on('timeout', () => request.destroy(new Error('the service does not answer')));
    request.on('error', reject);
    request.end(body);
  });
}

/** Asks for its settings as a phone does that was just plugged in, or told that they have changed. */
export async function setItselfUp(given: ProvisioningOrder, means: ProvisioningMeans): Promise<Provisioning> {
  const { onStep = () => undefined } = means;
  let order = given;
  const file = `/provisioning/${order.macAddress}.${order.form}`;
  /** Nothing is shown before it is asked for, as a box does that nobody has typed at. */
  let proof: Record<string, string> = given.settings?.again
    ? { Authorization: `Bearer ${given.settings.again.token}` }
    : {};
  const typed = Buffer.from(`${order.macAddress}:${order.typed ?? ''}`).toString('base64');
  try {
    for (let round = 0; round < MOST_ROUNDS; round += 1) {
      const said = `${file}?model=${encodeURIComponent(order.model)}&firmware=${encodeURIComponent(order.firmware)}`;
      let reply = await ask(order, means, 'GET', said, proof);
      if (reply.status === 401 && order.typed !== undefined && proof.Authorization === undefined) {
        proof = { Authorization: `Basic ${typed}` };
        reply = await ask(order, means, 'GET', said, proof);
      }
      if (reply.status !== 200) return { ok: false, why: reply.body.toString('utf8').trim().slice(0, 300) };
      const read = readSettings(reply.body.toString('utf8'));
      if (!read.ok)
        return { ok: false, why: `its settings cannot be read: ${read.faults[0]?.message ?? ''}` };
      const { settings } = read;
      if (settings.accounts.length > 0) {
        if (settings.restart) {
          onStep('restarts');
          const again = settings.again ? { Authorization: `Bearer ${settings.again.token}` } : proof;
          await tell(order, means, again, { what: 'restarted' });
        }
        return { ok: true, settings, firmware: order.firmware };
      }
      const { load } = settings.firmware;
      if (!load) return { ok: false, why: `needs firmware ${settings.firmware.least}` };
      onStep(`loads ${load.version}`);
      await tell(order, means, proof, { what: 'loading', version: load.version });
      const image = await ask(order, means, 'GET', load.path, {});
      const digest = createHash('sha256').update(image.body).digest('hex');
      if (image.status !== 200 || image.body.length !== load.bytes || digest !== load.sha256)
        return { ok: false, why: `the firmware file ${load.version} is not what it should be` };
      order = { ...order, firmware: load.version };
    }
    return { ok: false, why: 'it is told again and again to load firmware' };
  } catch (error) {
    return { ok: false, why: error instanceof Error ? error.message : String(error) };
  }
}

const tell = (
  order: ProvisioningOrder,
  means: ProvisioningMeans,
  proof: Readonly<Record<string, string>>,
  what: object,
) =>
  ask(
    order,
    means,
    'POST',
    `/provisioning/${order.macAddress}/did`,
    { ...proof, 'Content-Type': 'application/json' },
    JSON.stringify(what),
  );
