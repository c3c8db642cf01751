import { forgetTries } from './service';
import { parts } from '../../core/estate';
import { decodeText } from '../../core/formats';
import { modelOf, MODELS, readHardwareAddress } from '../../core/devices/phones';
import {
  afterStep,
  phoneReader,
  policyFor,
  readPhoneList,
  type ListedPhone,
} from '../../core/devices/provisioning';
import { hashCode } from '../auth';
import { inTransaction } from '../db';
import { checkedBody, type Route, type SignedIn } from '../http';
import { notRight, refusal, ROLES } from '../base';
import { whoIsSignedOn } from '../desks';
import { putPhoneSetting } from '../switchboard';
import { addRecord } from '../record';
import { certificateFor } from './authority';
import { newCode, readCode } from './codes';
import { enrol, takeList } from './list';
import { page } from './page';
import {
  addEvent,
  putCode,
  putProgress,
  readEvents,
  readPolicy,
  readProvisionedPhone,
  removeProvisioned,
  type ProvisionedPhone,
} from './queries';
import { forget, isOf, ownerName, recordedAs, registersAs, subjectNow, subjectOf } from './settings';

const { closed, requiredText, requiredId, requiredList, text, oneOf } = parts;
const SPECIALIST = ['specialist'] as const;
const MOST_CODES = 500;

async function phoneOf({ services, params }: SignedIn): Promise<ProvisionedPhone> {
  const address = readHardwareAddress(params.address ?? '');
  const phone = address === null ? null : await readProvisionedPhone(services.db, address);
  if (!phone) throw refusal(404, 'This phone is on no list.');
  return phone;
}

async function sentList({ services, body }: SignedIn): Promise<readonly ListedPhone[]> {
  if (!Buffer.isBuffer(body) || body.length === 0) throw refusal(400, 'The file is empty.');
  const decoded = decodeText(body);
  const trouble = (placed: readonly unknown[]) =>
    refusal(400, 'This file cannot be read.', { extra: { placed } });
  if (!decoded.ok) throw trouble([decoded.fault]);
  const { estate } = await services.store.current();
  const read = readPhoneList(decoded.text, estate);
  if (!read.ok) throw trouble(read.faults);
  return read.rows;
}

const listRow = (row: ListedPhone) => ({
  line: row.line,
  address: row.address,
  whose: row.whose,
  action: row.action,
  ...(row.action === 'refuse'
    ? { faults: row.faults }
    : {
        name: row.device.name,
        model: modelOf(row.device.model)?.name ?? row.device.model,
        ...(row.action !== 'same' && row.replaces ? { replaces: row.replaces.name } : {}),
      }),
});

/** Makes codes for phones; each is told this once, and only its hash is kept. */
async function giveCodes(context: SignedIn) {
  const { services, account, body } = context;
  const { addresses } = checkedBody<{ addresses: readonly string[] }>(
    body,
    closed({ addresses: requiredList(requiredText(17)).min(1).max(MOST_CODES) }),
  );
  const { db } = services;
  const live = await services.store.current();
  const signedOn = await whoIsSignedOn(db).read();
  const policy = await readPolicy(db);
  const until = new Date(services.now().getTime() + policy.codeHours * 3_600_000);
  const wanted: { readonly address: string; readonly code: string; readonly hash: string }[] = [];
  for (const each of addresses) {
    const code = newCode();
    wanted.push({
      address: readHardwareAddress(each) ?? '',
      code,
      hash: await hashCode(readCode(code)),
    });
  }
  const codes = await inTransaction(db, async (connection) => {
    const given: { address: string; name: string; person: string; code: string }[] = [];
    for (const { address, code, hash } of wanted) {
      const phone = await readProvisionedPhone(connection, address, true);
      if (!phone) throw refusal(404, `${address} is on no list.`);
      const subject = subjectOf(live, phone.device, signedOn);
      if ('why' in subject) throw refusal(409, `${subject.why}.`);
      await putCode(connection, address, hash, until);
      await addRecord(connection, {
        who: account.name,
        kind: 'code-given',
        ...recordedAs(subject),
      });
      given.push({ address, name: subject.device.name, person: ownerName(subject), code });
    }
    return given;
  });
  return { body: { codes, until: until.toISOString() } };
}

const plugSchema = closed({
  typed: text(100),
  firmware: text(20).matches(/^\d{1,5}(\.\d{1,5}){0,4}$/, {
    message: 'must be numbers with dots',
    excludeEmptyString: true,
  }),
  form: oneOf(['json', 'xml']),
});

/** Plugs the stand-in of a phone in, as it comes out of its box. */
async function plugIn(context: SignedIn) {
  const { services, request, body } = context;
  const phone = await phoneOf(context);
  const given = checkedBody<{ typed?: string; firmware?: string; form?: 'json' | 'xml' }>(body, plugSchema);
  const subject = await subjectNow(services.db, await services.store.current(), phone.device);
  if ('why' in subject) throw refusal(409, `${subject.why}.`);
  const policy = policyFor(await readPolicy(services.db), subject.desk !== null);
  const tls = services.tls();
  const isCertified = policy.credential === 'certificate';
  if (isCertified && !tls) throw refusal(503, 'The service does not listen over TLS.');
  const certificate = isCertified
    ? await certificateFor(services.db, services.secrets, phone.address, services.now())
    : null;
  const isTaken = services.phones.plugIn({
    endpoint: subject.endpoint,
    macAddress: phone.address,
    model: subject.model.id,
    firmware:
      given.firmware || phone.progress.firmware || subject.device.firmware || subject.model.firmwareLeast,
    form: given.form ?? 'json',
    url:
      certificate && tls
        ? `https://127.0.0.1:${tls.port}`
        : `http://127.0.0.1:${request.socket.localPort ?? ''}`,
    ...(certificate && tls ? { ca: tls.cert, certificate } : {}),
    ...(given.typed ? { typed: given.typed } : {}),
  });
  if (!isTaken) throw refusal(503, 'The stand-ins do not run.');
  return { status: 202, body: {} };
}

export const provisioningRoutes: readonly Route[] = [
  { method: 'GET', path: '/api/provisioning', roles: ROLES, handle: page },
  {
    method: 'POST',
    path: '/api/provisioning/list/read',
    roles: SPECIALIST,
    rawBody: true,
    limit: 1 << 20,
    handle: async (context) => ({ body: { rows: (await sentList(context)).map(listRow) } }),
  },
  {
    method: 'POST',
    path: '/api/provisioning/list',
    roles: SPECIALIST,
    rawBody: true,
    limit: 1 << 20,
    handle: async (context) => {
      const devices = await takeList(context, await sentList(context));
      return { status: 201, body: { phones: devices.map(({ macAddress }) => macAddress) } };
    },
  },
  {
    method: 'POST',
    path: '/api/provisioning',
    roles: SPECIALIST,
    handle: async (context) => {
      const given = checkedBody<{ address: string; model: string; person: string; name?: string }>(
        context.body,
        closed({
          address: requiredText(40),
          model: oneOf(MODELS.map(({ id }) => id)).required('is missing'),
          person: requiredText(200),
          name: text(),
        }),
      );
      const { estate } = await context.services.store.current();
      const row = phoneReader(estate)(1, { ...given, name: given.name ?? '' });
      if (row.action === 'refuse')
        throw notRight(row.faults.map(({ field, message }) => ({ path: field, message })));
      await takeList(context, [row]);
      return { status: 201, body: { address: row.device.macAddress } };
    },
  },
  { method: 'POST', path: '/api/provisioning/codes', roles: SPECIALIST, handle: giveCodes },
  {
    /** A phone that is there already begins anew. */
    method: 'POST',
    path: '/api/provisioning/:address/anew',
    roles: SPECIALIST,
    handle: async (context) => {
      const address = readHardwareAddress(context.params.address ?? '');
      const { estate } = await context.services.store.current();
      const device = estate.devices?.find(({ macAddress }) => macAddress === address);
      if (!device) throw refusal(404, 'There is no phone of this MAC address.');
      await inTransaction(context.services.db, (db) => enrol(db, context, estate, device));
      await context.services.phones.refresh();
      return page(context);
    },
  },
  {
    method: 'DELETE',
    path: '/api/provisioning/:address',
    roles: SPECIALIST,
    handle: async (context) => {
      const { services, account } = context;
      const phone = await phoneOf(context);
      const live = await services.store.current();
      const device = live.estate.devices?.find(({ id }) => id === phone.device);
      await inTransaction(services.db, async (db) => {
        await removeProvisioned(db, phone.address);
        await forget(db, phone.address);
        const endpoint = device && registersAs(live.estate, device);
        if (endpoint !== undefined)
          await putPhoneSetting(db, { endpoint, does: 'ready', answerAfterMs: null });
        await addRecord(db, {
          who: account.name,
          kind: 'provisioning-ended',
          subject: device?.name ?? phone.address,
        });
      });
      await services.phones.refresh();
      return page(context);
    },
  },
  {
    method: 'POST',
    path: '/api/provisioning/:address/unlock',
    roles: SPECIALIST,
    handle: async (context) => {
      const { services, account } = context;
      const phone = await phoneOf(context);
      const at = services.now();
      await inTransaction(services.db, async (db) => {
        await forgetTries(db, phone.address);
        const now = (await readProvisionedPhone(db, phone.address, true)) ?? phone;
        await putProgress(db, phone.address, afterStep(now.progress, { kind: 'unlocked' }, at.getTime()));
        const says = `Unlocked by ${account.name}`;
        await addEvent(db, { address: phone.address, from: '', says, isKnown: true, at });
      });
      return page(context);
    },
  },
  {
    method: 'GET',
    path: '/api/provisioning/:address/events',
    roles: ROLES,
    handle: async (context) => {
      const address = readHardwareAddress(context.params.address ?? '');
      if (address === null) throw refusal(404, 'This is no MAC address.');
      return { body: { events: await readEvents(context.services.db, address) } };
    },
  },
  { method: 'POST', path: '/api/provisioning/:address/plug-in', roles: SPECIALIST, handle: plugIn },
  {
    /** Tells phones that are registered that their settings have changed. */
    method: 'POST',
    path: '/api/provisioning/push',
    roles: SPECIALIST,
    handle: async (context) => {
      const { services, account, body } = context;
      const { devices } = checkedBody<{ devices: readonly string[] }>(
        body,
        closed({ devices: requiredList(requiredId()).min(1).max(MOST_CODES) }),
      );
      const live = await services.store.current();
      const signedOn = await whoIsSignedOn(services.db).read();
      const subjects = devices.map((id) => subjectOf(live, id, signedOn));
      const bad = subjects.find((each) => 'why' in each);
      if (bad && 'why' in bad) throw refusal(409, `${bad.why}.`);
      const there = services.phones.registrations();
      const pushed = subjects.flatMap((each) =>
        'why' in each || !there.some(({ endpoint }) => isOf(each, endpoint)) ? [] : [each],
      );
      services.phones.notify(pushed.map(({ endpoint }) => endpoint));
      await inTransaction(services.db, async (db) => {
        for (const each of pushed)
          await addRecord(db, {
            who: account.name,
            kind: 'settings-pushed',
            ...recordedAs(each),
          });
      });
      return { body: { pushed: pushed.length, absent: subjects.length - pushed.length } };
    },
  },
];
