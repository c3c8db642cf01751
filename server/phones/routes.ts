import type { Phones } from '../../api/phones';
import { isNumberKind, parts, type Endpoint, type Person } from '../../core/estate';
import { sliceFor } from '../../core/editing';
import {
  phonesByStatus,
  placeFrom,
  sayPlacing,
  type PhonesAtStatus,
  type SoundNotes,
} from '../../core/devices/phones';
import { isoIn } from '../../core/calls/time';
import { inTransaction } from '../db';
import type { LiveEstate } from '../estate';
import { checkedBody, type Route } from '../http';
import { notRight, refusal, ROLES } from '../base';
import { readChecks } from './checks';
import { addRecord } from '../record';
import { PHONE_MANNERS, type PhoneManner } from '../../standins/messages';
import { changePerson } from '../people';
import {
  readAccount,
  renewPassword,
  notesSchema,
  putSoundNotes,
  readSoundNotes,
  putPhoneSetting,
  readPhoneSettings,
} from '../switchboard';

interface Found {
  readonly person: Person;
  readonly endpoint: Endpoint;
}

/** What a person's phones do, status by status. */
export function statusesOf(
  { estate, finder }: LiveEstate,
  person: Person,
  now: Date,
): readonly PhonesAtStatus[] {
  const slice = sliceFor(estate, finder, { person: person.id });
  return phonesByStatus(slice, person, isoIn(now.getTime(), estate.timeZone));
}

/** The endpoint that a path names, with whose it is; refuses where there is none that registers. */
export function registeringEndpoint(live: LiveEstate, id: string | undefined): Found {
  const person = live.finder.ownerOf(id ?? '');
  const endpoint = person?.endpoints.find((each) => each.id === id);
  if (!person || !endpoint) throw refusal(404, 'There is no such phone.');
  if (isNumberKind(endpoint.kind))
    throw refusal(409, `${endpoint.label} is a phone of the public network: it has no account here.`);
  return { person, endpoint };
}

const standinSchema = parts.closed({
  does: parts.oneOf(PHONE_MANNERS).required('is missing'),
  answerAfterMs: parts.ms().nullable(),
});

const pressSchema = parts.closed({
  code: parts.requiredText(20),
  typed: parts.list(parts.text(20).matches(/^\d*$/, 'must be digits')).max(4),
});

/** Where an account's values are told: all that a phone needs, but for the password. */
const accountBody = (
  place: { realm: string; address: string; udp: number; tcp: number; tls: number } | null,
  user: string,
) => ({
  user,
  server: place?.address ?? null,
  realm: place?.realm ?? null,
  ports: place ? { udp: place.udp, tcp: place.tcp, tls: place.tls } : null,
});

export const phoneRoutes: readonly Route[] = [
  {
    method: 'GET',
    path: '/api/phones',
    roles: ROLES,
    handle: async ({ services: { db, store, phones } }) => {
      const { estate } = await store.current();
      const settings = new Map((await readPhoneSettings(db)).map((each) => [each.endpoint, each]));
      return {
        body: {
          place: phones.place(),
          checks: await readChecks(db, null),
          registrations: phones.registrations(),
          waysLost: phones.waysLost(),
          // One that waits for provisioning has not been lost.
          lost: phones
            .lost()
            .filter(({ endpoint }) => endpoint === null || settings.get(endpoint)?.does !== 'bare'),
          phones: estate.people.flatMap((person) =>
            person.endpoints.map((endpoint) => ({
              endpoint: endpoint.id,
              label: endpoint.label,
              kind: endpoint.kind,
              person: person.id,
              name: person.name,
              extension: person.lines[0]?.extension ?? null,
              does: settings.get(endpoint.id)?.does ?? 'ready',
              answerAfterMs: settings.get(endpoint.id)?.answerAfterMs ?? null,
            })),
          ),
        } satisfies Phones,
      };
    },
  },
  {
    method: 'GET',
    path: '/api/phones/events',
    roles: ROLES,
    handle: ({ services: { phones } }) =>
      Promise.resolve({
        stream: (send, onClosed) => {
          send('registrations', {});
          onClosed(
            phones.subscribe((event) => {
              if (event.kind === 'registrations') send('registrations', {});
            }),
          );
        },
      }),
  },
  {
    method: 'PUT',
    path: '/api/phones/:endpoint/standin',
    roles: ['specialist', 'help-desk'],
    handle: async ({ services: { db, store, phones }, params, body }) => {
      const live = await store.current();
      const id = params.endpoint ?? '';
      if (!live.finder.ownerOf(id)) throw refusal(404, 'There is no such phone.');
      const wanted = checkedBody<{ does: PhoneManner; answerAfterMs?: number | null }>(body, standinSchema);
      await putPhoneSetting(db, {
        endpoint: id,
        does: wanted.does,
        answerAfterMs: wanted.does === 'answers' ? (wanted.answerAfterMs ?? 4000) : null,
      });
      await phones.refresh();
      return { status: 204 };
    },
  },
  {
    /** Dials one of the organisation's codes at the stand-in of a phone, and tells what was heard there. */
    method: 'POST',
    path: '/api/phones/:endpoint/press',
    roles: ['specialist', 'help-desk'],
    handle: async ({ services: { db, store, phones }, params, body, account }) => {
      const live = await store.current();
      const { person, endpoint } = registeringEndpoint(live, params.endpoint);
      const { code, typed } = checkedBody<{ code: string; typed?: readonly string[] }>(body, pressSchema);
      const known = live.estate.dialling.codes?.find((each) => each.code === code && each.acts);
      if (!known) throw notRight([{ path: 'code', message: 'is no code that does something' }]);
      const heard = await phones.press(endpoint.id, code, typed ?? []);
      if (heard === null) throw refusal(409, `The stand-in of ${endpoint.label} is not registered.`);
      await addRecord(db, {
        who: account.name,
        kind: 'code-dialled',
        personId: person.id,
        subject: `${person.name}: ${endpoint.label}`,
        detail: code,
      });
      return { body: { heard: heard.map((each) => each.replace(/^(ask|told) /, '')) } };
    },
  },
  {
    method: 'GET',
    path: '/api/phones/:endpoint/account',
    roles: ['specialist', 'help-desk'],
    handle: async ({ services: { db, store, phones, secrets, now }, params }) => {
      const live = await store.current();
      const { person, endpoint } = registeringEndpoint(live, params.endpoint);
      const account = await readAccount(db, secrets, endpoint.id);
      if (!account) throw refusal(409, 'This phone has no account yet. It gets one within seconds.');
      return {
        body: {
          ...accountBody(phones.place(), account.user),
          servers: live.estate.settings?.servers ?? {},
          notes: await readSoundNotes(db, endpoint.id),
          placing: sayPlacing(person, statusesOf(live, person, now()), endpoint.id),
        },
      };
    },
  },
  {
    method: 'PUT',
    path: '/api/phones/:endpoint/notes',
    roles: ['specialist', 'help-desk'],
    handle: async ({ services: { db, store, now }, params, body, account }) => {
      const { person, endpoint } = registeringEndpoint(await store.current(), params.endpoint);
      const notes = checkedBody<SoundNotes>(body, notesSchema);
      await inTransaction(db, async (connection) => {
        const before = await readSoundNotes(connection, endpoint.id);
        await putSoundNotes(connection, endpoint.id, notes, account.name, now());
        await addRecord(connection, {
          who: account.name,
          kind: 'sound-noted',
          personId: person.id,
          subject: `${person.name}: ${endpoint.label}`,
          before,
          after: notes,
        });
      });
      return { body: await readSoundNotes(db, endpoint.id) };
    },
  },
  {
    /** Which of a person's phones ring and which places their calls, by their status. */
    method: 'GET',
    path: '/api/people/:id/by-status',
    roles: ROLES,
    handle: async ({ services: { store, now }, params }) => {
      const live = await store.current();
      const person = live.finder.person(params.id ?? '');
      if (!person) throw refusal(404, 'There is no such person.');
      return { body: { statuses: statusesOf(live, person, now()) } };
    },
  },
  {
    method: 'PUT',
    path: '/api/people/:id/calls-from',
    roles: ['specialist', 'help-desk'],
    handle: async ({ services, params, body, account }) => {
      const { status, endpoint = null } = checkedBody<{ status: string; endpoint?: string | null }>(
        body,
        parts.closed({ status: parts.requiredId(), endpoint: parts.text(120).nullable() }),
      );
      const live = await services.store.current();
      const name = live.estate.statuses.find(({ id }) => id === status)?.name ?? status;
      await changePerson(services, account.name, params.id ?? '', {
        kind: 'person-changed',
        detail: `places calls from ${endpoint ?? 'no phone in particular'} while “${name}”`,
        change: (person) => placeFrom(person, status, endpoint),
      });
      return { status: 204 };
    },
  },
  {
    method: 'POST',
    path: '/api/phones/:endpoint/account/password',
    roles: ['specialist'],
    handle: async ({ services: { db, store, phones, secrets, now }, params, account: who, query }) => {
      const { person, endpoint } = registeringEndpoint(await store.current(), params.endpoint);
      const renew = query.renew === '1';
      const shown = await inTransaction(db, async (connection) => {
        const account = renew
          ? await renewPassword(connection, secrets, endpoint.id, now())
          : await readAccount(connection, secrets, endpoint.id);
        if (!account) throw refusal(409, 'This phone has no account yet. It gets one within seconds.');
        await addRecord(connection, {
          who: who.name,
          kind: renew ? 'password-renewed' : 'password-shown',
          personId: person.id,
          subject: `${person.name}: ${endpoint.label}`,
        });
        return account;
      });
      if (renew) await phones.refresh();
      return { body: { ...accountBody(phones.place(), shown.user), password: shown.password } };
    },
  },
];
