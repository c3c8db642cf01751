import { TLSSocket } from 'node:tls';
import express, { type Request, type Response, type Router } from 'express';
import { rateLimit } from 'express-rate-limit';
import { isNewEnough, modelOf, readHardwareAddress } from '../../core/devices/phones';
import {
  afterStep,
  writeSettingsJson,
  writeSettingsXml,
  policyFor,
  type ProvisioningPolicy,
  type Step,
} from '../../core/devices/provisioning';
import {
  forgetAttempts,
  mayTry,
  tryCounted,
  WINDOW_SECONDS,
  type Bound,
  hashPassword,
  phoneSecretMatches,
} from '../auth';
import { inTransaction, type Queryable, type Tx } from '../db';
import type { LiveEstate } from '../estate';
import { isOwnHost, isPrivate, type Services } from '../http';
import { pinBound, readPinHash } from '../pins';
import { changeDevice } from '../objects';
import { addRecord } from '../record';
import { addressOfCertificate } from './authority';
import {
  addEvent,
  putCode,
  putProgress,
  readImageBody,
  readEvents,
  readPolicy,
  readProvisionedPhone,
  type ProvisionedPhone,
} from './queries';
import { readCode } from './codes';
import {
  gather,
  isToken,
  keepSettings,
  settingsWith,
  subjectNow,
  recordedAs,
  tokenOf,
  type Subject,
} from './settings';

/** Requests that one source may make in a minute. */
export interface ServiceLimits {
  readonly perSource: number;
}
const LIMITS: ServiceLimits = { perSource: 60 };
const MINUTE_MS = 60_000;
/** Wrong proofs for one phone from everywhere, as a multiple of those from one source. */
const EVERYWHERE = 10;
const REALM = 'Basic realm="Hostler phones", charset="UTF-8"';

/** How a phone has proved who it is for. */
type Proof =
  | { readonly kind: 'right' }
  /** It has not tried yet. */
  | { readonly kind: 'none' }
  /** Why, for the specialist alone: whoever asks is told nothing. */
  | { readonly kind: 'wrong'; readonly why: string }
  | { readonly kind: 'locked'; readonly seconds: number };

const basicOf = (authorization: string): { readonly user: string; readonly secret: string } | null => {
  const [, encoded = ''] = /^Basic +([A-Za-z0-9+/=]+)$/i.exec(authorization) ?? [];
  const text = Buffer.from(encoded, 'base64').toString('utf8');
  const at = text.indexOf(':');
  return at < 0 ? null : { user: text.slice(0, at), secret: text.slice(at + 1) };
};

/** A phone that is asked for, with all that its proof is held to; `phone` null: it is on no list. */
interface Claimed {
  readonly phone: ProvisionedPhone | null;
  readonly person: string | null;
  readonly address: string;
  readonly from: string;
  readonly policy: ProvisioningPolicy;
}

/** Stands in for the secret of a phone that is on no list: looking at it takes as long. */
let nobodysHash: Promise<string> | null = null;

/**
 * Looks at the proof that comes with a question, outside any transaction. A try at a code or PIN is counted before it
 * is judged: for the source and the phone together, and for the phone from everywhere. A phone that asks again with
 * its token is not held up by what strangers try.
 */
async function prove(services: Services, claimed: Claimed, request: Request): Promise<Proof> {
  const { db } = services;
  const { phone, person, address, from, policy } = claimed;
  const { authorization = '' } = request.headers;
  const [, token] = /^Bearer +(\S{1,200})$/i.exec(authorization) ?? [];
  if (token !== undefined)
    return phone && (await isToken(db, services, address, token))
      ? { kind: 'right' }
      : { kind: 'wrong', why: 'What was asked with again is not known' };
  if (policy.credential === 'certificate') return proveByCertificate(db, services, phone, request);
  const given = basicOf(authorization);
  if (!given) return { kind: 'none' };
  const what = policy.credential === 'code' ? 'code' : 'PIN';
  const bounds = provingBounds(address, from, policy);
  const seconds = policy.lockMinutes * 60;
  const hash =
    policy.credential === 'code'
      ? (phone?.codeHash ?? null)
      : person === null
        ? null
        : await readPinHash(db, person);
  nobodysHash ??= hashPassword('nobody');
  const stored = hash ?? (await nobodysHash);
  const shown = policy.credential === 'code' ? readCode(given.secret) : given.secret;
  const matches = await tryCounted(db, bounds, () => phoneSecretMatches(stored, shown), seconds);
  if (matches === null) return { kind: 'locked', seconds };
  const right = await (async (): Promise<Proof> => {
    if (readHardwareAddress(given.user) !== address)
      return { kind: 'wrong', why: `The ${what} was given for another phone` };
    if (policy.credential === 'pin') {
      if (hash === null) return { kind: 'wrong', why: 'Its person has no PIN yet' };
      // Counted together with what is typed at phones.
      const pin = pinBound(person ?? '');
      if (!(await mayTry(db, [pin]))) return { kind: 'locked', seconds: WINDOW_SECONDS };
      if (!matches) return { kind: 'wrong', why: 'The PIN is wrong' };
      await forgetAttempts(db, [pin.subject]);
      return { kind: 'right' };
    }
    if (hash === null) return { kind: 'wrong', why: 'It has no code, or has used it already' };
    if (phone?.codeUntil && new Date(phone.codeUntil) < services.now())
      return { kind: 'wrong', why: 'Its code has run out' };
    return matches ? { kind: 'right' } : { kind: 'wrong', why: 'The code is wrong' };
  })();
  if (right.kind === 'right')
    await forgetAttempts(
      db,
      bounds.map(({ subject }) => subject),
    );
  return right;
}
const provingBounds = (address: string, from: string, { tries }: ProvisioningPolicy): readonly Bound[] => [
  { subject: `provisioning of ${address} from ${from}`, most: tries },
  { subject: `provisioning of ${address}`, most: tries * EVERYWHERE },
];
/** Lets a phone try again, from the sources that were seen. */
export const forgetTries = async (db: Queryable, address: string): Promise<void> =>
  forgetAttempts(db, [
    `provisioning of ${address}`,
    ...(await readEvents(db, address)).map(({ from }) => `provisioning of ${address} from ${from}`),
  ]);

async function proveByCertificate(
  db: Queryable,
  services: Services,
  phone: ProvisionedPhone | null,
  request: Request,
): Promise<Proof> {
  const wrong = (why: string): Proof => ({ kind: 'wrong', why });
  const { socket } = request;
  if (!(socket instanceof TLSSocket)) return wrong('It must ask over TLS, and show its certificate');
  const { raw } = socket.getPeerCertificate();
  if (!raw) return wrong('It shows no certificate');
  const shown = await addressOfCertificate(db, raw, services.now());
  if ('why' in shown) return wrong(shown.why);
  return shown.address === phone?.address
    ? { kind: 'right' }
    : wrong('Its certificate is of another MAC address');
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
  db: Tx,
  known: {
    readonly phone: ProvisionedPhone;
    readonly subject: Subject;
    readonly policy: ProvisioningPolicy;
    readonly live: LiveEstate;
  },
  step: (step: Step, says: string) => Promise<void>,
) => Promise<Answered>;

/**
 * Goes through what every question of a phone has to pass, and notes what came of it. Before a phone has proved itself
 * nothing of what is noted about it changes but that something asked, and the answer is the same whatever is not right.
 */
async function asPhone(
  services: Services,
  request: Request,
  address: string,
  handle: Handle,
): Promise<Answered> {
  const from = (request.ip ?? '').replace(/^::ffff:/, '');
  const at = services.now();
  if (!isOwnHost(request.headers.host)) return answer(421, 'This server is not called by that name.');
  if (!isPrivate(request.socket as TLSSocket, request.headers))
    return answer(403, 'Settings are given over TLS only.');
  const { db } = services;
  const live = await services.store.current();
  const phone = await readProvisionedPhone(db, address);
  const subject = phone ? await subjectNow(db, live, phone.device) : { why: 'It is on no list' };
  const policy = policyFor(await readPolicy(db), !('why' in subject) && subject.desk !== null);
  const claimed: Claimed = {
    phone,
    person: 'why' in subject ? null : (subject.person?.id ?? null),
    address,
    from,
    policy,
  };
  const proof = await prove(services, claimed, request);
  const challenge: Answered['headers'] =
    policy.credential === 'certificate' ? {} : { 'WWW-Authenticate': REALM };
  const unproven = answer(401, 'Prove who you are for.', challenge);
  if (!phone) {
    await addEvent(db, { address, from, says: 'It asked, and is on no list', isKnown: false, at });
    return proof.kind === 'locked' ? tooMany(proof.seconds) : unproven;
  }
  if (proof.kind === 'locked') return tooMany(proof.seconds);
  return inTransaction(db, async (tx) => {
    const now = await readProvisionedPhone(tx, address, true);
    if (!now) return unproven;
    let { progress } = now;
    const step = async (each: Step, says: string) => {
      progress = afterStep(progress, each, at.getTime());
      await putProgress(tx, address, progress);
      await addEvent(tx, { address, from, says, isKnown: true, at });
    };
    if (proof.kind === 'none') {
      await step({ kind: 'asked', firmware: null }, 'It asked for its settings');
      return unproven;
    }
    if (proof.kind === 'wrong') {
      await step({ kind: 'wrong', why: proof.why }, proof.why);
      return unproven;
    }
    // A code serves once: of two who come with it at the same moment one is too late.
    if (now.codeHash !== phone.codeHash) return unproven;
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
    return handle(tx, { phone: now, subject, policy, live }, step);
  });
}
const tooMany = (seconds: number): Answered =>
  answer(429, 'Too many wrong tries.', { 'Retry-After': String(seconds) });

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
  const answered = await asPhone(services, request, address, async (db, { phone, subject, live }, step) => {
    const { firmware } = saidOf(request);
    if (firmware !== null) seen = { id: subject.device.id, firmware };
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
      // A shared desk’s asks at each sign-on, which is in the record itself.
      if (before !== settings.serial && !subject.desk)
        await addRecord(db, {
          who: 'the phone itself',
          kind: 'settings-fetched',
          ...recordedAs(subject),
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
        `Its firmware is too old: ${load ? `it is to load ${load.version}` : `${least} is needed, and no such firmware file is here`}`,
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
  router.use((_request, response, next) => {
    response.setHeader('Cache-Control', 'no-store');
    next();
  });
  // By source alone: what strangers ask stops nobody else.
  router.use(
    rateLimit({
      windowMs: MINUTE_MS,
      limit: limits.perSource,
      standardHeaders: 'draft-7',
      legacyHeaders: false,
      message: 'Too many questions.\n',
    }),
  );
  router.get('/firmware/:model/:version', async (request, response) => {
    const { model, version } = request.params;
    const body = await readImageBody(services.db, model, version);
    if (!body) return send(response, answer(404, 'There is no such firmware file.'));
    response.setHeader('Content-Type', 'application/octet-stream');
    response.send(body);
  });
  router.get('/:file', async (request, response) => {
    const [, name = '', ending] = /^(.+?)(?:\.(json|xml))?$/.exec(request.params.file) ?? [];
    const address = readHardwareAddress(name);
    if (address === null) return send(response, answer(404, 'This is no MAC address.'));
    const isXml = ending === 'xml' || (ending === undefined && request.accepts(['json', 'xml']) === 'xml');
    send(response, await giveSettings(services, request, address, isXml));
  });
  router.post('/:address/did', express.json({ limit: 2000, inflate: false }), async (request, response) => {
    const address = readHardwareAddress(request.params.address);
    if (address === null) return send(response, answer(404, 'This is no MAC address.'));
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
