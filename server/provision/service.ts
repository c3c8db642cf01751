import { TLSSocket } from 'node:tls';
import express, { type Request, type Response, type Router } from 'express';
import { rateLimit } from 'express-rate-limit';
import { modelOf, readHardwareAddress } from '../../core/phones';
import {
  afterStep,
  isLocked,
  isNewEnough,
  writeSettingsJson,
  writeSettingsXml,
  type SelfSetPolicy,
  type Step,
} from '../../core/provision';
import { passwordMatches } from '../auth/passwords';
import { inTransaction, type Queryable } from '../db';
import type { Services } from '../http/routes';
import { changeDevice } from '../objects/change-device';
import { addRecord } from '../record/queries';
import { addressOfCertificate } from './authority';
import {
  addEvent,
  putCode,
  putProgress,
  readImageBody,
  readPinHash,
  readPolicy,
  readSelfSetPhone,
  type SelfSetPhone,
} from './queries';
import { readCode } from './codes';
import { gather, isToken, keepSettings, settingsWith, subjectOf, tokenOf, type Subject } from './settings';

/** Requests that one source, and all together, may make in a minute. */
export interface ServiceLimits {
  readonly perSource: number;
  readonly altogether: number;
}
const LIMITS: ServiceLimits = { perSource: 60, altogether: 3000 };
const MINUTE_MS = 60_000;
const REALM = 'Basic realm="Hostler phones", charset="UTF-8"';

/** Whether nobody can listen in: over TLS, or within this machine. */
export function isPrivate(socket: {
  readonly encrypted?: boolean;
  readonly remoteAddress?: string | undefined;
}): boolean {
  const from = (socket.remoteAddress ?? '').replace(/^::ffff:/, '');
  return socket.encrypted === true || from === '::1' || /^127(\.\d{1,3}){3}$/.test(from);
}

/** How a phone has proved who it is for. */
type Proof =
  | { readonly kind: 'right' }
  /** It has not tried yet. */
  | { readonly kind: 'none' }
  /** `counts`: as a try at a secret. */
  | { readonly kind: 'wrong'; readonly why: string; readonly counts: boolean };

const basicOf = (authorization: string): { readonly user: string; readonly secret: string } | null => {
  const [, encoded = ''] = /^Basic +([A-Za-z0-9+/=]+)$/i.exec(authorization) ?? [];
  const text = Buffer.from(encoded, 'base64').toString('utf8');
  const at = text.indexOf(':');
  return at < 0 ? null : { user: text.slice(0, at), secret: text.slice(at + 1) };
};

async function prove(
  db: Queryable,
  services: Services,
  phone: SelfSetPhone,
  subject: Subject,
  policy: SelfSetPolicy,
  request: Request,
): Promise<Proof> {
  const { authorization = '' } = request.headers;
  const [, token] = /^Bearer +(\S+)$/i.exec(authorization) ?? [];
  if (token !== undefined)
    return (await isToken(db, services, phone.address, token))
      ? { kind: 'right' }
      : { kind: 'wrong', why: 'What it asked again with is not known', counts: true };
  if (policy.credential === 'certificate') return proveByCertificate(db, services, phone, request);
  const given = basicOf(authorization);
  if (!given) return { kind: 'none' };
  const what = policy.credential === 'code' ? 'code' : 'PIN';
  if (readHardwareAddress(given.user) !== phone.address)
    return { kind: 'wrong', why: `The ${what} was given for another phone`, counts: true };
  if (policy.credential === 'pin') {
    const hash = await readPinHash(db, subject.person.id);
    if (hash === null) return { kind: 'wrong', why: `${subject.person.name} has no PIN yet`, counts: false };
    return (await passwordMatches(hash, given.secret))
      ? { kind: 'right' }
      : { kind: 'wrong', why: 'The PIN is wrong', counts: true };
  }
  if (phone.codeHash === null)
    return { kind: 'wrong', why: 'It has no code, or has used it already', counts: false };
  if (phone.codeUntil !== null && new Date(phone.codeUntil) < services.now())
    return { kind: 'wrong', why: 'Its code has run out', counts: false };
  return (await passwordMatches(phone.codeHash, readCode(given.secret)))
    ? { kind: 'right' }
    : { kind: 'wrong', why: 'The code is wrong', counts: true };
}

async function proveByCertificate(
  db: Queryable,
  services: Services,
  phone: SelfSetPhone,
  request: Request,
): Promise<Proof> {
  const wrong = (why: string): Proof => ({ kind: 'wrong', why, counts: false });
  const { socket } = request;
  if (!(socket instanceof TLSSocket)) return wrong('It must ask over TLS, and show its certificate');
  const { raw } = socket.getPeerCertificate();
  if (!raw) return wrong('It shows no certificate');
  const shown = await addressOfCertificate(db, raw, services.now());
  if ('why' in shown) return wrong(shown.why);
  return shown.address === phone.address
    ? { kind: 'right' }
    : wrong('Its certificate is of another hardware address');
}

/** What a phone says of itself in its question. */
const saidOf = ({ query }: Request) => {
  const text = (name: string) => (typeof query[name] === 'string' ? query[name].slice(0, 40) : null);
  const firmware = text('firmware');
  return {
    model: text('model'),
    firmware: firmware !== null && /^\d{1,5}(\.\d{1,5}){0,4}$/.test(firmware) ? firmware : null,
  };
};

interface Answered {
  readonly status: number;
  readonly headers?: Readonly<Record<string, string>>;
  readonly text: string;
}
const answer = (status: number, text: string, headers: Answered['headers'] = {}): Answered => ({
  status,
  text: `${text}\n`,
  headers: { 'Content-Type': 'text/plain; charset=utf-8', ...headers },
});

/** What an answer of the service is made of, once a phone is known, free and private. */
type Handle = (
  db: Queryable,
  known: { readonly phone: SelfSetPhone; readonly subject: Subject; readonly policy: SelfSetPolicy },
  step: (step: Step, says: string) => Promise<void>,
) => Promise<Answered>;

/** Goes through what every question of a phone has to pass, and notes what came of it. */
async function asPhone(
  services: Services,
  request: Request,
  address: string,
  handle: Handle,
): Promise<Answered> {
  const from = (request.socket.remoteAddress ?? '').replace(/^::ffff:/, '');
  const at = services.now();
  if (!isPrivate(request.socket as TLSSocket)) return answer(403, 'Settings are given over TLS only.');
  const live = await services.store.current();
  return inTransaction(services.db, async (db) => {
    const phone = await readSelfSetPhone(db, address, true);
    if (!phone) {
      await addEvent(db, { address, from, says: 'It asked, and is on no list', isKnown: false, at });
      return answer(404, 'This phone is on no list.');
    }
    const policy = await readPolicy(db);
    let { progress } = phone;
    const step = async (each: Step, says: string) => {
      progress = afterStep(progress, each, policy, at.getTime());
      await putProgress(db, address, progress);
      await addEvent(db, { address, from, says, isKnown: true, at });
    };
    if (isLocked(progress, at.getTime())) {
      const seconds = Math.ceil(((progress.lockedUntilMs ?? 0) - at.getTime()) / 1000);
      return answer(429, 'Too many wrong tries.', { 'Retry-After': String(seconds) });
    }
    const subject = subjectOf(live, phone.device);
    if ('why' in subject) {
      await step({ kind: 'refused', why: subject.why }, subject.why);
      return answer(409, `${subject.why}.`);
    }
    const { model } = saidOf(request);
    if (model !== null && model !== subject.model.id) {
      const why = `It says it is a ${modelOf(model)?.name ?? model}; the list has a ${subject.model.name}`;
      await step({ kind: 'refused', why }, why);
      return answer(409, `${why}.`);
    }
    const proof = await prove(db, services, phone, subject, policy, request);
    if (proof.kind === 'right') return handle(db, { phone, subject, policy }, step);
    const challenge: Answered['headers'] =
      policy.credential === 'certificate' ? {} : { 'WWW-Authenticate': REALM };
    if (proof.kind === 'none') {
      await step({ kind: 'asked', firmware: saidOf(request).firmware }, 'It asked for its settings');
      return answer(401, 'Prove who you are for.', challenge);
    }
    await step({ kind: proof.counts ? 'wrong' : 'refused', why: proof.why }, proof.why);
    return answer(401, `${proof.why}.`, challenge);
  });
}

/** Notes the firmware that a phone says it runs, where the estate has another. */
async function noteFirmware(services: Services, id: string, firmware: string): Promise<void> {
  const live = await services.store.current();
  if (live.estate.devices?.find((each) => each.id === id)?.firmware === firmware) return;
  await changeDevice(services, id, (device) => ({ ...device, firmware }), { kind: 'firmware-seen' });
}

async function giveSettings(
  services: Services,
  request: Request,
  address: string,
  isXml: boolean,
): Promise<Answered> {
  let seen: { readonly id: string; readonly firmware: string } | null = null;
  const answered = await asPhone(services, request, address, async (db, { phone, subject }, step) => {
    const { firmware } = saidOf(request);
    if (firmware !== null) seen = { id: subject.device.id, firmware };
    const live = await services.store.current();
    await tokenOf(db, services, address);
    const gathered = await gather(db, services, { address, endpoint: subject.endpoint });
    const settings = settingsWith(gathered, live, address, subject, firmware);
    if ('why' in settings) {
      await step({ kind: 'refused', why: settings.why }, settings.why);
      return answer(503, `${settings.why}.`, { 'Retry-After': '30' });
    }
    if (isNewEnough(firmware, subject.model.firmwareLeast)) {
      const before = phone.progress.serial;
      await keepSettings(db, services, address, settings);
      await putCode(db, address, null, null);
      await step(
        { kind: 'fetched', firmware, serial: settings.serial, restarts: settings.restart },
        settings.restart ? 'It has its settings, and restarts' : 'It has its settings',
      );
      if (before !== settings.serial)
        await addRecord(db, {
          who: 'the phone itself',
          kind: 'settings-fetched',
          personId: subject.person.id,
          subject: `${subject.person.name}: ${subject.device.name}`,
        });
    } else {
      const { least, load } = settings.firmware;
      await step(
        {
          kind: 'too-old',
          firmware: firmware ?? 'something that it does not say',
          least,
          load: load?.version ?? null,
        },
        `Its firmware is too old: ${load ? `it is to load ${load.version}` : `${least} is needed, and no image is here`}`,
      );
    }
    return {
      status: 200,
      headers: {
        'Content-Type': isXml ? 'application/xml; charset=utf-8' : 'application/json; charset=utf-8',
      },
      text: isXml ? writeSettingsXml(settings) : writeSettingsJson(settings),
    };
  });
  if (seen) {
    const { id, firmware } = seen as { readonly id: string; readonly firmware: string };
    await noteFirmware(services, id, firmware);
  }
  return answered;
}

const send = (response: Response, { status, headers = {}, text }: Answered): void => {
  response.status(status);
  for (const [name, value] of Object.entries(headers)) response.setHeader(name, value);
  response.send(text);
};

/** The service that phones ask for their settings: over loopback, or TLS. */
export function provisioning(services: Services, limits: ServiceLimits = LIMITS): Router {
  const router = express.Router();
  const tooMany = 'Too many questions.\n';
  const limit = (most: number, keyOf?: () => string) =>
    rateLimit({
      windowMs: MINUTE_MS,
      limit: most,
      standardHeaders: 'draft-7',
      legacyHeaders: false,
      message: tooMany,
      ...(keyOf ? { keyGenerator: keyOf } : {}),
    });
  router.use((_request, response, next) => {
    response.setHeader('Cache-Control', 'no-store');
    next();
  });
  router.use(
    limit(limits.altogether, () => 'all'),
    limit(limits.perSource),
  );
  router.get('/firmware/:model/:version', async (request, response) => {
    const { model, version } = request.params;
    const body = await readImageBody(services.db, model, version);
    if (!body) return send(response, answer(404, 'There is no such image.'));
    response.setHeader('Content-Type', 'application/octet-stream');
    response.send(body);
  });
  router.get('/:file', async (request, response) => {
    const [, name = '', ending] = /^(.+?)(?:\.(json|xml))?$/.exec(request.params.file) ?? [];
    const address = readHardwareAddress(name);
    if (address === null) return send(response, answer(404, 'This is no hardware address.'));
    const isXml = ending === 'xml' || (ending === undefined && request.accepts(['json', 'xml']) === 'xml');
    send(response, await giveSettings(services, request, address, isXml));
  });
  router.post('/:address/did', express.json({ limit: 2000 }), async (request, response) => {
    const address = readHardwareAddress(request.params.address);
    if (address === null) return send(response, answer(404, 'This is no hardware address.'));
    const { what, version } = (request.body ?? {}) as { readonly what?: unknown; readonly version?: unknown };
    if (what !== 'loading' && what !== 'restarted')
      return send(response, answer(400, '"what" must be "loading" or "restarted".'));
    send(
      response,
      await asPhone(services, request, address, async (_db, _known, step) => {
        if (what === 'restarted') await step({ kind: 'restarted' }, 'It has restarted');
        else {
          const which = typeof version === 'string' ? version.slice(0, 20) : 'new firmware';
          await step({ kind: 'loading', version: which }, `It loads ${which}`);
        }
        return answer(200, 'Noted.');
      }),
    );
  });
  return router;
}
