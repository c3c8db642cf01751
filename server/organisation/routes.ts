import type { EstatePreview, OrganisationPage } from '../../api/organisation';
import { isUnbegun, type OrganisationBeginning } from '../../core/editing';
import { parts, type Estate } from '../../core/estate';
import { entriesBetween, type SlateEntry } from '../../core/changes/slate';
import { inTransaction } from '../db';
import { checkedBody, type Route, type Services } from '../http';
import { refusal, ROLES } from '../base';
import { changeEstate, setOrganisation } from '../estate';
import { readEstateInPool } from '../reading';
import { addRecord } from '../record';
import { beginOrganisation, putWhereUnbegun } from './begin';
import { addSlate, patchSlate, putEntries, slateEstate } from '../slates';

const MOST_BYTES = 32 << 20;
const MOST_NAMES = 12;

const organisationSchema = parts.closed({
  name: parts.text(200).trim().required('is missing'),
  timeZone: parts.timeZone(),
  before: parts.closed({ name: parts.requiredText(500), timeZone: parts.requiredText(80) }),
});

const code = () =>
  parts
    .text(8)
    .matches(/^[0-9*#]*$/, 'must be digits, or empty')
    .defined('is missing');
const beginningSchema = parts.closed<OrganisationBeginning>({
  name: parts.text(200).trim().required('is missing'),
  country: parts
    .text(2)
    .matches(/^[A-Z]{2}$/, 'must be a country of ISO 3166 such as CA')
    .required('is missing'),
  timeZone: parts.timeZone(),
  outsideCode: code(),
  areaCodes: parts.requiredList(parts.text(8).matches(/^\d+$/, 'must be digits')),
  extensionDigits: parts.count(2, 8).required('is missing'),
  trunk: parts.closed({
    name: parts.text(200).trim().required('is missing'),
    channels: parts.count(1, 100_000).required('is missing'),
  }),
  opens: parts.clock(),
  closes: parts.clock(),
});

async function pageOf({ store }: Services): Promise<OrganisationPage> {
  const { estate } = await store.current();
  return {
    name: estate.name,
    timeZone: estate.timeZone,
    dialling: estate.dialling,
    unbegun: isUnbegun(estate),
    counts: {
      people: estate.people.length,
      groups: estate.groups.length,
      menus: estate.menus.length,
      hours: estate.schedules.length,
      statuses: estate.statuses.length,
      permissions: estate.permissions.length,
      trunks: estate.trunks.length,
      phones: estate.devices?.length ?? 0,
    },
  };
}

/** An estate file that was sent, read beside the server. @throws a refusal with its faults */
async function sentEstate(body: unknown): Promise<Estate> {
  if (!(body instanceof Uint8Array) || body.length === 0) throw refusal(400, 'Send an estate file.');
  const read = await readEstateInPool(body);
  if (!read.ok) throw refusal(400, 'This is no estate file that can be read.', { faults: read.faults });
  return read.estate;
}

/** What a file changes; an organisation's own name and zone are told apart, since a slate does not hold them. */
async function between(services: Services, file: Estate) {
  const live = await slateEstate(services);
  return { live, entries: entriesBetween(live.estate, file) };
}

const preview = (live: Estate, file: Estate, entries: readonly SlateEntry[]): EstatePreview => {
  const kinds = [...new Set(entries.map(({ kind }) => kind))].map((kind) => {
    const of = (is: (entry: SlateEntry) => boolean) =>
      entries.filter((entry) => entry.kind === kind && is(entry)).map(({ name }) => name);
    return {
      kind,
      added: of(({ base }) => base === null),
      changed: of(({ base, after }) => base !== null && after !== null),
      removed: of(({ after }) => after === null),
    };
  });
  return {
    name: file.name,
    people: file.people.length,
    renamed: live.name !== file.name || live.timeZone !== file.timeZone,
    entries: entries.length,
    kinds: kinds.map(({ kind, ...lists }) => ({
      kind,
      added: shortened(lists.added),
      changed: shortened(lists.changed),
      removed: shortened(lists.removed),
    })),
  };
};
const shortened = (names: readonly string[]): readonly string[] =>
  names.length > MOST_NAMES
    ? [...names.slice(0, MOST_NAMES), `and ${names.length - MOST_NAMES} more`]
    : names;

/** The organisation itself: its name and zone, its beginning, and the estate as a file, out and in. */
export const organisationRoutes: readonly Route[] = [
  {
    method: 'GET',
    path: '/api/organisation',
    roles: ROLES,
    handle: async ({ services }) => ({ body: await pageOf(services) }),
  },
  {
    method: 'PUT',
    path: '/api/organisation',
    roles: ['specialist'],
    handle: async ({ services, account, body }) => {
      const { name, timeZone, before } = checkedBody<{
        name: string;
        timeZone: string;
        before: { name: string; timeZone: string };
      }>(body, organisationSchema);
      await changeEstate(services, async (tx, { live, countUp }) => {
        const now = { name: live.estate.name, timeZone: live.estate.timeZone };
        if (now.name !== before.name || now.timeZone !== before.timeZone)
          throw refusal(409, 'Somebody else has changed the organisation since you opened this.', {
            extra: { theirs: now },
          });
        const after = { name: name.trim(), timeZone };
        if (after.name === now.name && after.timeZone === now.timeZone) return;
        await countUp(true);
        await setOrganisation(tx, after);
        await addRecord(tx, {
          who: account.name,
          kind: 'settings-set',
          subject: 'the organisation’s name and zone',
          before: now,
          after,
        });
      });
      return { body: await pageOf(services) };
    },
  },
  {
    method: 'POST',
    path: '/api/organisation/begin',
    roles: ['specialist'],
    handle: async ({ services, account, body }) => {
      const given = checkedBody<OrganisationBeginning>(body, beginningSchema);
      await beginOrganisation(services, account.name, given);
      return { status: 201, body: await pageOf(services) };
    },
  },
  {
    /** What an estate file would change. Nothing is written. */
    method: 'POST',
    path: '/api/estate/preview',
    roles: ['specialist'],
    limit: MOST_BYTES,
    rawBody: true,
    handle: async ({ services, body }) => {
      const file = await sentEstate(body);
      const { live, entries } = await between(services, file);
      return { body: preview(live.estate, file, entries) };
    },
  },
  {
    /** All that an estate file changes, on a slate of its own; where nothing was begun yet it is put live at once. */
    method: 'POST',
    path: '/api/estate/import',
    roles: ['specialist'],
    limit: MOST_BYTES,
    rawBody: true,
    handle: async ({ services, account, body }) => {
      const file = await sentEstate(body);
      const { live, entries } = await between(services, file);
      if (isUnbegun(live.estate)) {
        await putWhereUnbegun(services, account.name, file);
        return { status: 201, body: { slate: null } };
      }
      if (entries.length === 0) throw refusal(409, 'The file changes nothing.');
      const at = services.now();
      const slate = await inTransaction(services.db, async (tx) => {
        const id = await addSlate(tx, `File: ${file.name}`.slice(0, 100), account.name, at);
        await patchSlate(tx, id, { note: 'All that an estate file changes.' }, at);
        await putEntries(tx, id, entries, account.name, at);
        return id;
      });
      return { status: 201, body: { slate } };
    },
  },
];
