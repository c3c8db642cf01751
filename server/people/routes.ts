import type {
  AddedPerson,
  NewPersonPage,
  PeopleFound,
  PeopleHead,
  PeopleRows,
  PersonPage,
  PersonSummary,
} from '../../api/people';
import {
  coverLines,
  endCover,
  nextExtension,
  sliceFor,
  switchEndpoint,
  type NewPerson,
} from '../../core/editing';
import { parts, type Person, type SimpleEnding } from '../../core/estate';
import { mayDial, watchedAs } from '../../core/calls/dialling';
import { writeVCard } from '../../core/formats';
import { peopleMatcher } from '../../core/search';
import { checkedBody, type Route, type Services, type SignedIn } from '../http';
import { notRight, refusal, ROLES } from '../base';
import { atDesks } from '../desks';
import { addRecord } from '../record';
import { addPerson, newPersonSchema } from './add';
import { changePerson, type Change } from './change';
import { listNow, partsOf } from './list';
import { readScriptInPool } from '../reading';
import { readRunning } from '../restarts';

/** Parts of the list of people in one answer, and people who are found. */
const MOST_PARTS = 20;
const MOST_FOUND = 200;
const MOST_SEARCHED = 200;

async function pageOf(services: Services, id: string): Promise<PersonPage> {
  const live = await services.store.current();
  const person = live.finder.person(id);
  if (!person) throw refusal(404, 'There is no such person.');
  const slice = sliceFor(live.estate, live.finder, id);
  const inSlice = new Set(slice.people.map((each) => each.id));
  const behind = (await readRunning(services.db)).filter(({ endpoint }) =>
    inSlice.has(live.finder.ownerOf(endpoint)?.id ?? ''),
  );
  const signedOn = slice.people.some(({ endpoints }) => endpoints.some(({ kind }) => kind === 'hot-desk'))
    ? [...(await atDesks(services.db, live, services.now().getTime(), inSlice))]
    : [];
  return {
    person,
    version: live.versions.get(id) ?? 1,
    slice,
    behind,
    signedOn: Object.fromEntries(
      signedOn.map(([each, { name, startsUntilMs }]) => [
        each,
        { desk: name, startsUntil: startsUntilMs === null ? null : new Date(startsUntilMs).toISOString() },
      ]),
    ),
  };
}

/** Changes a person, and answers with their page. */
async function changed(services: Services, who: string, id: string, change: Change) {
  await changePerson(services, who, id, change);
  return { body: await pageOf(services, id) };
}

/**
 * Cover by an outside number costs money and may be what a fraud is after: where the help desk sets it, the line must
 * be allowed to call there, and the number must not be one that is watched.
 */
async function mustBeAllowed(context: SignedIn, ending: SimpleEnding): Promise<void> {
  if (context.account.role === 'specialist' || (ending.kind !== 'number' && ending.kind !== 'sip')) return;
  const { estate, finder } = await context.services.store.current();
  const person = finder.person(personId(context));
  if (!person) return;
  const wrong = (path: string, message: string) =>
    refusal(400, 'This cover is set by a mobility specialist.', {
      faults: [{ path: `ending.${path}`, message }],
    });
  if (ending.kind === 'sip') throw wrong('uri', 'leads out of the organisation: ask a mobility specialist');
  const way = mayDial(person, ending.number, estate);
  if (!way.ok) throw wrong('number', `may not be called by this line. ${way.heard ?? ''}`.trim());
  const watched = watchedAs(ending.number, estate);
  if (watched !== null)
    throw wrong('number', 'is one that fraud protection watches: ask a mobility specialist');
}

const personId = (context: SignedIn) => context.params.id ?? '';

const putSchema = parts.closed({ version: parts.count(1).required('is missing'), person: parts.anything() });
const statusSchema = parts.closed({ status: parts.requiredId() });
const coverSchema = parts.closed({ ending: parts.anything().nullable(), until: parts.instant() });
const scriptSchema = parts.closed({ script: parts.text(1 << 20).required('is missing') });
const switchSchema = parts.closed({
  endpoint: parts.requiredId(),
  enabled: parts.flag().required('is missing'),
});

export const peopleRoutes: readonly Route[] = [
  {
    /** What is proposed for somebody new, and what there is to choose from. */
    method: 'GET',
    path: '/api/new-person',
    roles: ['specialist'],
    handle: async ({ services: { store } }) => {
      const { estate } = await store.current();
      const { statuses, permissions, templates = [] } = estate;
      return {
        body: {
          extension: nextExtension(estate),
          statuses,
          permissions: permissions.map(({ id, name }) => ({ id, name })),
          templates: templates.map(({ id, name }) => ({ id, name })),
          dialling: estate.dialling,
        } satisfies NewPersonPage,
      };
    },
  },
  {
    method: 'POST',
    path: '/api/people',
    roles: ['specialist'],
    handle: async ({ services, account, body }) => ({
      status: 201,
      body: {
        id: await addPerson(services, account.name, checkedBody<NewPerson>(body, newPersonSchema)),
      } satisfies AddedPerson,
    }),
  },
  {
    method: 'GET',
    path: '/api/people',
    roles: ROLES,
    handle: async ({ services, query }) => {
      const { live, parts } = await listNow(services);
      const { estate, revision } = live;
      const [first] = parts;
      const named = (each: { readonly id: string; readonly name: string }) => ({
        id: each.id,
        name: each.name,
      });
      const body: PeopleHead = {
        revision,
        parts: parts.map(({ hash, rows }) => ({ hash, count: rows.length })),
        people: first ? (first.hash === query.have ? null : first.rows) : [],
        statuses: estate.statuses,
        permissions: estate.permissions.map(named),
        templates: (estate.templates ?? []).map(named),
      };
      return { body };
    },
  },
  {
    /** Rows of the list of people, by the names of its parts. */
    method: 'GET',
    path: '/api/people-parts',
    roles: ROLES,
    handle: async ({ services, query }) => {
      const hashes = (query.names ?? '').split(',', MOST_PARTS + 1);
      if (hashes.length > MOST_PARTS || !hashes.every((hash) => /^[0-9a-f]{24}$/.test(hash)))
        throw refusal(400, `One to ${MOST_PARTS} parts of the list can be asked for at once.`);
      const known = partsOf(services.store);
      // A server that has just started has not cut its list yet.
      if (hashes.some((hash) => !known.part(hash))) await listNow(services);
      return { body: { parts: hashes.map((hash) => known.part(hash)) } satisfies PeopleRows };
    },
  },
  {
    /** Whoever fits, for a browser that has not got the whole list yet. */
    method: 'GET',
    path: '/api/people-found',
    roles: ROLES,
    handle: async ({ services, query, account }) => {
      const text = query.text ?? '';
      if (text.length > MOST_SEARCHED) throw refusal(400, 'What is searched for is too long.');
      const { live, parts } = await listNow(services);
      const fits = peopleMatcher(
        { query: text, status: query.status ?? null, reach: query.reach ?? null },
        // Whoever sees private numbers masked does not find anybody by them either.
        account.role === 'specialist' ? null : (number) => live.index.destinations.has(number),
      );
      const people: PersonSummary[] = [];
      let count = 0;
      for (const { rows } of parts)
        for (const row of rows) {
          if (!fits(row)) continue;
          count += 1;
          if (people.length < MOST_FOUND) people.push(row);
        }
      return { body: { people, count } satisfies PeopleFound };
    },
  },
  {
    method: 'GET',
    path: '/api/cards',
    roles: ['specialist'],
    handle: async ({ services: { store } }) => {
      const { estate } = await store.current();
      return {
        text: estate.people.map((person) => writeVCard(person, estate.name)).join(''),
        headers: {
          'Content-Type': 'text/vcard; charset=utf-8',
          'Content-Disposition': 'attachment; filename="people.vcf"',
        },
      };
    },
  },
  {
    method: 'GET',
    path: '/api/people/:id',
    roles: ROLES,
    handle: async (context) => ({ body: await pageOf(context.services, personId(context)) }),
  },
  {
    method: 'PUT',
    path: '/api/people/:id',
    roles: ['specialist'],
    handle: async (context) => {
      const { version, person } = checkedBody<{ version: number; person: Person }>(context.body, putSchema);
      return changed(context.services, context.account.name, personId(context), {
        kind: 'person-changed',
        detail: '',
        version,
        change: () => person,
      });
    },
  },
  {
    method: 'PUT',
    path: '/api/people/:id/status',
    roles: ['specialist', 'help-desk'],
    handle: async (context) => {
      const { status } = checkedBody<{ status: string }>(context.body, statusSchema);
      return changed(context.services, context.account.name, personId(context), {
        kind: 'status-set',
        detail: status,
        change: (person) => ({ ...person, status }),
      });
    },
  },
  {
    method: 'PUT',
    path: '/api/people/:id/switch',
    roles: ['specialist', 'help-desk'],
    handle: async (context) => {
      const { endpoint, enabled } = checkedBody<{ endpoint: string; enabled: boolean }>(
        context.body,
        switchSchema,
      );
      return changed(context.services, context.account.name, personId(context), {
        kind: 'switched',
        detail: `${endpoint} ${enabled ? 'on' : 'off'}`,
        change: (person) => {
          if (!person.endpoints.some((each) => each.id === endpoint))
            throw notRight([
              { path: 'endpoint', message: `there is no endpoint "${endpoint}" of this person` },
            ]);
          return switchEndpoint(person, endpoint, enabled);
        },
      });
    },
  },
  {
    method: 'PUT',
    path: '/api/people/:id/cover',
    roles: ['specialist', 'help-desk'],
    handle: async (context) => {
      const { ending, until } = checkedBody<{ ending: SimpleEnding | null; until?: string }>(
        context.body,
        coverSchema,
      );
      const nowMs = context.services.now().getTime();
      if (ending) await mustBeAllowed(context, ending);
      if (ending && until !== undefined && Date.parse(until) <= nowMs)
        throw notRight([{ path: 'until', message: 'must be a time to come' }]);
      return changed(context.services, context.account.name, personId(context), {
        kind: 'covered',
        detail: ending ? (until ? `until ${until}` : 'until it is ended') : 'ended',
        change: (person) =>
          ending ? coverLines(person, ending, until ?? null, nowMs) : endCover(person, nowMs),
      });
    },
  },
  {
    method: 'POST',
    path: '/api/people/:id/numbers/:endpoint',
    roles: ['specialist', 'help-desk'],
    unmasked: true,
    handle: async (context) => {
      const { store, db } = context.services;
      const person = (await store.current()).finder.person(personId(context));
      const endpoint = person?.endpoints.find((each) => each.id === context.params.endpoint);
      if (!person || !endpoint?.number) throw refusal(404, 'There is no such number.');
      await addRecord(db, {
        who: context.account.name,
        kind: 'number-shown',
        personId: person.id,
        subject: person.name,
        detail: endpoint.label,
      });
      return { body: { number: endpoint.number } };
    },
  },
  {
    method: 'POST',
    path: '/api/people/:id/script',
    roles: ['specialist'],
    limit: 2 << 20,
    handle: async (context) => {
      const { script } = checkedBody<{ script: string }>(context.body, scriptSchema);
      const { estate, finder } = await context.services.store.current();
      const person = finder.person(personId(context));
      if (!person) throw refusal(404, 'There is no such person.');
      const read = await readScriptInPool(script, person, estate);
      if (!read.ok) throw refusal(400, 'This script cannot be read.', { faults: read.faults });
      const { plan, notes, schedules } = read;
      const after = { ...person, plan };
      const found = { ...finder, person: (id: string) => (id === person.id ? after : finder.person(id)) };
      return { body: { plan, notes, schedules, slice: sliceFor(estate, found, person.id) } };
    },
  },
];
