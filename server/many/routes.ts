import type { ManyDone, ManyLook, ManyRow } from '../../api/many';
import {
  changedAsMany,
  differences,
  fillTemplate,
  MANY_KINDS,
  nameOfMany,
  type ManyChange,
  isSame,
} from '../../core/editing';
import { andList, parts, type Person } from '../../core/estate';
import { dropOuts, schedulesOf } from '../../core/assurance/impact';
import { withPeople } from '../../core/calls/engine';
import { judgeReach } from '../../core/calls/views';
import { notRight, refusal } from '../base';
import type { LiveEstate } from '../estate';
import { checkedBody, type Route, type Services } from '../http';
import { slateAtOnce } from '../slates';

/** People that are changed at once: beyond it a staff list is the better way. */
const MOST = 5000;
const pause = () => new Promise<void>((resolve) => setImmediate(resolve));

const changeSchema = () =>
  parts
    .closed({ kind: parts.oneOf(MANY_KINDS).required('is missing'), to: parts.requiredId() })
    .required('is missing');
const lookSchema = parts.closed({
  people: parts.requiredList(parts.requiredId()).min(1, 'is nobody').max(MOST, `are more than ${MOST}`),
  change: changeSchema(),
});
const putSchema = parts.closed({
  people: parts
    .requiredList(parts.closed({ id: parts.requiredId(), version: parts.count(1).required('is missing') }))
    .min(1, 'is nobody')
    .max(MOST, `are more than ${MOST}`),
  change: changeSchema(),
});

/** The chosen people as they are, each once. @throws Refusal that names the first who is not there */
function chosen(live: LiveEstate, ids: readonly string[]): readonly Person[] {
  return [...new Set(ids)].map((id) => {
    const person = live.finder.person(id);
    if (!person) throw notRight([{ path: 'people', message: `there is no person "${id}"` }]);
    return person;
  });
}

function nameIn(live: LiveEstate, change: ManyChange): string {
  const name = nameOfMany(live.estate, change);
  if (name === null) throw notRight([{ path: 'change.to', message: `there is no ${change.kind} like it` }]);
  return name;
}

async function rowsOf(
  live: LiveEstate,
  people: readonly Person[],
  change: ManyChange,
  atMs: number,
): Promise<readonly ManyRow[]> {
  const template = live.estate.templates?.find(({ id }) => change.kind === 'template' && id === change.to);
  const changed = new Map(people.map((person) => [person.id, changedAsMany(live.estate, person, change)]));
  const then = withPeople(live.index, [...changed.values()]);
  const rows: ManyRow[] = [];
  for (const person of people) {
    await pause();
    const after = changed.get(person.id) ?? person;
    const judged = judgeReach(then, after, atMs);
    rows.push({
      id: person.id,
      name: person.name,
      version: live.versions.get(person.id) ?? 1,
      changes: differences(person, after).length,
      left: template ? fillTemplate(template.plan, person).left : [],
      drops: template
        ? dropOuts(
            live.index,
            then,
            person,
            schedulesOf([{ ...live.estate, menus: [], people: [person, after] }]),
            atMs,
          )
        : [],
      before: judgeReach(live.index, person, atMs).state,
      after: judged.state,
      why: judged.why,
    });
  }
  return rows;
}

const people = (n: number) => (n === 1 ? 'one person' : `${n} people`);
const TITLES = { status: 'Status', permission: 'Permission', template: 'Template' } as const;

/** A change of several people, each as it was looked at. */
export interface Many {
  readonly people: readonly { readonly id: string; readonly version: number }[];
  readonly change: ManyChange;
}

/**
 * Makes a change of several people: all of them or none, on a slate of its own.
 * @throws Refusal where one of them was changed since, or all are like that already: nothing is written then
 */
export async function changeMany(
  services: Pick<Services, 'db' | 'store' | 'now'>,
  who: string,
  { people: asked, change }: Many,
): Promise<ManyDone> {
  const live = await services.store.current();
  const name = nameIn(live, change);
  const versions = new Map(asked.map(({ id, version }) => [id, version]));
  const which = chosen(live, [...versions.keys()]);
  const others = which.filter(({ id }) => (live.versions.get(id) ?? 1) !== versions.get(id));
  if (others.length > 0)
    throw refusal(
      409,
      `Somebody else has changed ${andList(others.map((person) => person.name))} since you looked. Nothing was written; look again.`,
    );
  const entries = which
    .map((person) => ({
      kind: 'person' as const,
      id: person.id,
      name: person.name,
      base: person,
      after: changedAsMany(live.estate, person, change),
    }))
    .filter(({ base, after }) => !isSame(base, after));
  if (entries.length === 0) throw refusal(409, 'All of them are like that already.');
  return slateAtOnce(services, who, `${TITLES[change.kind]} ${name} for ${people(entries.length)}`, entries);
}

export const manyRoutes: readonly Route[] = [
  {
    /** What a change would do to each of several people; nothing is written. */
    method: 'POST',
    path: '/api/many/look',
    roles: ['specialist'],
    handle: async ({ services, body }) => {
      const asked = checkedBody<{ people: readonly string[]; change: ManyChange }>(body, lookSchema);
      const live = await services.store.current();
      nameIn(live, asked.change);
      const rows = await rowsOf(live, chosen(live, asked.people), asked.change, services.now().getTime());
      return { body: { rows } satisfies ManyLook };
    },
  },
  {
    method: 'POST',
    path: '/api/many',
    roles: ['specialist'],
    handle: async ({ services, account, body }) => ({
      body: await changeMany(services, account.name, checkedBody<Many>(body, putSchema)),
    }),
  },
];
