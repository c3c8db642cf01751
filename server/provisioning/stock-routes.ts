import { parts } from '../../core/estate';
import { modelOf } from '../../core/devices/phones';
import { policySchema, type ProvisioningPolicy } from '../../core/devices/provisioning';
import { inTransaction } from '../db';
import { checkedBody, type Route } from '../http';
import { notRight, refusal, ROLES } from '../base';
import { readPinDates, removePin, setPin } from '../pins';
import { addRecord } from '../record';
import { addAuthority, authorityFault, readAuthorities, removeAuthority } from './authority';
import { page } from './page';
import { putFirmwareFile, putPolicy, readFirmwareFiles, readPolicy, removeFirmwareFile } from './queries';
import { sha256 } from './settings';

const { closed, requiredText, text } = parts;
const SPECIALIST = ['specialist'] as const;

/** What provisioned phones are held to and given: rules, firmware, makers that are believed, PINs. */
/** Firmware files kept: each may have 16 MiB. */
const MOST_FIRMWARE_FILES = 60;

export const stockRoutes: readonly Route[] = [
  {
    method: 'PUT',
    path: '/api/provisioning/policy',
    roles: SPECIALIST,
    handle: async (context) => {
      const policy = checkedBody<ProvisioningPolicy>(context.body, policySchema);
      await inTransaction(context.services.db, async (db) => {
        const before = await readPolicy(db);
        await putPolicy(db, policy);
        await addRecord(db, {
          who: context.account.name,
          kind: 'provisioning-policy',
          subject: 'provisioning',
          before,
          after: policy,
        });
      });
      return page(context);
    },
  },
  {
    method: 'PUT',
    path: '/api/provisioning/firmware/:model/:version',
    roles: SPECIALIST,
    rawBody: true,
    handle: async (context) => {
      const { services, account, params, body } = context;
      const [model, version] = [modelOf(params.model ?? ''), params.version ?? ''];
      if (!model) throw refusal(404, 'There is no such model in the catalogue.');
      const fault = (path: string, message: string) => notRight([{ path, message }]);
      if (!/^\d{1,5}(\.\d{1,5}){0,4}$/.test(version))
        throw fault('version', 'must be numbers with dots, such as 3.2.10');
      if (!Buffer.isBuffer(body) || body.length === 0) throw fault('file', 'is empty');
      const digest = sha256(body);
      if ((await readFirmwareFiles(services.db)).length >= MOST_FIRMWARE_FILES)
        throw refusal(409, `There are ${MOST_FIRMWARE_FILES} firmware files already. Remove one first.`);
      await inTransaction(services.db, async (db) => {
        await putFirmwareFile(
          db,
          { model: model.id, version, sha256: digest, addedBy: account.name },
          body,
          services.now(),
        );
        await addRecord(db, {
          who: account.name,
          kind: 'firmware-added',
          subject: `${model.name} ${version}`,
          detail: `SHA-256 ${digest}`,
        });
      });
      return page(context);
    },
  },
  {
    method: 'DELETE',
    path: '/api/provisioning/firmware/:model/:version',
    roles: SPECIALIST,
    handle: async (context) => {
      const { model = '', version = '' } = context.params;
      if (!(await removeFirmwareFile(context.services.db, model, version)))
        throw refusal(404, 'There is no such firmware file.');
      return page(context);
    },
  },
  {
    method: 'POST',
    path: '/api/provisioning/authorities',
    roles: SPECIALIST,
    handle: async (context) => {
      const { services, account, body } = context;
      const { name, certificate } = checkedBody<{ name: string; certificate: string }>(
        body,
        closed({ name: requiredText(200), certificate: requiredText(20_000) }),
      );
      const message = authorityFault(certificate, services.now());
      if (message !== null) throw notRight([{ path: 'certificate', message }]);
      await inTransaction(services.db, async (db) => {
        await addAuthority(db, name, certificate, services.now());
        await addRecord(db, { who: account.name, kind: 'authority-added', subject: name });
      });
      return page(context);
    },
  },
  {
    method: 'DELETE',
    path: '/api/provisioning/authorities/:id',
    roles: SPECIALIST,
    handle: async (context) => {
      const { services, account, params } = context;
      const id = Number(params.id);
      await inTransaction(services.db, async (db) => {
        const known = (await readAuthorities(db)).find((each) => each.id === id);
        if (!known || !(await removeAuthority(db, id)))
          throw refusal(404, 'There is no such certificate authority.');
        await addRecord(db, { who: account.name, kind: 'authority-removed', subject: known.name });
      });
      return page(context);
    },
  },
  {
    method: 'GET',
    path: '/api/people/:id/pin',
    roles: ROLES,
    handle: async ({ services, params }) => ({
      body: { setAt: (await readPinDates(services.db)).get(params.id ?? '') ?? null },
    }),
  },
  {
    method: 'POST',
    path: '/api/people/:id/pin',
    roles: SPECIALIST,
    handle: async (context) => {
      const { pin } = checkedBody<{ pin?: string }>(context.body, closed({ pin: text(20) }));
      const { finder } = await context.services.store.current();
      const person = finder.person(context.params.id ?? '');
      if (!person) throw refusal(404, 'There is no such person.');
      return { body: await setPin(context, person, pin) };
    },
  },
  {
    method: 'DELETE',
    path: '/api/people/:id/pin',
    roles: SPECIALIST,
    handle: async (context) => {
      const { finder } = await context.services.store.current();
      const person = finder.person(context.params.id ?? '');
      if (!person) throw refusal(404, 'There is no such person.');
      await removePin(context, person);
      return { body: { setAt: null } };
    },
  },
];
