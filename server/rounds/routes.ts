import type { RoundsPage, RoundState } from '../../api/rounds';
import { readNumber } from '../../core/calls/dialling';
import { faultsOf, parts } from '../../core/estate';
import { beginningRound, roundPlanSchema, type RoundPlan } from '../../core/rounds';
import { notRight, refusal, type Account } from '../base';
import { inTransaction, type Tx } from '../db';
import type { LiveEstate } from '../estate';
import { checkedBody, type Route, type Services, type SignedIn } from '../http';
import { readRoundListInPool } from '../reading';
import { addRecord, type RecordKind } from '../record';
import { recordingOf } from '../recordings';
import {
  allRounds,
  countNumbers,
  countRounds,
  insertRound,
  listFileOf,
  neverCalled,
  patchRound,
  putNumbers,
  readRound,
  type StoredRound,
} from './queries';
import { missingOf, mustFind, pageOf, rowOf, whyNotApprove } from './page';

const MAY_SEE = ['specialist', 'manager'] as const;
const MAY_CHANGE = ['specialist'] as const;
const MOST_ROUNDS = 400;
const MOST_LIST_BYTES = 8 << 20;

const versionBody = parts.closed<{ version: number }>({ version: parts.count(1).required('is missing') });
const planBody = parts.closed<{ version: number; plan: unknown }>({
  version: parts.count(1).required('is missing'),
  plan: parts.anything(),
});
const newBody = parts.closed<{ name: string }>({
  name: parts.requiredText(120).trim().min(1, 'is missing'),
});
/** The plan as it was sent; its caller ID may be written in any form, and is one of the organisation's own numbers. */
function checkedPlan({ estate, index }: LiveEstate, given: unknown): RoundPlan {
  const typed = parts.field(given, 'callerId');
  const read = typeof typed === 'string' ? readNumber(typed, estate.dialling) : null;
  const faults = faultsOf(
    roundPlanSchema,
    read?.ok && parts.isObject(given) ? { ...given, callerId: read.e164 } : given,
  ).map(({ path, message }) => ({ path: path === '' ? 'plan' : `plan.${path}`, message }));
  if (faults.length > 0)
    throw notRight(
      read?.ok === false
        ? faults.map((each) => (each.path === 'plan.callerId' ? { ...each, message: read.reason } : each))
        : faults,
    );
  if (read?.ok && !index.destinations.has(read.e164))
    throw notRight([{ path: 'plan.callerId', message: 'is none of the organisation’s own numbers' }]);
  const plan = given as RoundPlan;
  return { ...plan, name: plan.name.trim(), callerId: read?.ok ? read.e164 : null };
}

async function judged(services: Services, file: Uint8Array, plan: RoundPlan) {
  const { estate } = await services.store.current();
  const { dialling, trunks, permissions, settings } = estate;
  return readRoundListInPool(file, {
    estate: { dialling, trunks, permissions, ...(settings ? { settings } : {}) },
    permission: plan.permission,
    never: await neverCalled(services.db),
  });
}

/** Locks a round for a change; it must be in one of these states and as whoever changes it has seen it. */
async function lockedRound(
  tx: Tx,
  id: number,
  states: readonly RoundState[],
  version: number | null,
): Promise<StoredRound> {
  const round = await readRound(tx, id, true);
  if (!round || round.removedAt) throw refusal(404, 'There is no such round.');
  if (version !== null && round.version !== version)
    throw refusal(409, 'Somebody has changed this round since you opened it. Look at it again.');
  if (!states.includes(round.state)) throw refusal(409, SAY_STATE[round.state]);
  return round;
}
const SAY_STATE: Readonly<Record<RoundState, string>> = {
  draft: 'This round is a draft.',
  asked: 'This round waits for approval.',
  approved: 'This round is approved and has not been started.',
  running: 'This round is running.',
  paused: 'This round is paused.',
  stopped: 'This round was stopped.',
  done: 'This round is done.',
};

/** What changes the plan or the list takes approval away. */
const CHANGEABLE = ['draft', 'asked', 'approved'] as const;
const backToDraft = ({ id }: Account) =>
  ({
    state: 'draft',
    changedBy: id,
    askedBy: null,
    askedName: null,
    approvedName: null,
    approvedAt: null,
  }) as const;

/** A step from some states to another, noted in the record. */
function step(
  name: string,
  from: readonly RoundState[],
  kind: RecordKind,
  work: (tx: Tx, round: StoredRound, context: SignedIn & { readonly live: LiveEstate }) => Promise<void>,
  roles: Route['roles'] = MAY_CHANGE,
): Route {
  return {
    method: 'POST',
    path: `/api/rounds/:id/${name}`,
    roles,
    handle: async (context) => {
      const { services, params, account } = context;
      const { version } = checkedBody<{ version: number }>(context.body, versionBody);
      const live = await services.store.current();
      await inTransaction(services.db, async (tx) => {
        const round = await lockedRound(tx, Number(params.id), from, version);
        await work(tx, round, { ...context, live });
        await addRecord(tx, { who: account.name, kind, subject: round.plan.name });
      });
      return { body: await pageOf(context, await mustFind(context)) };
    },
  };
}

async function mustHaveAll(tx: Tx, round: StoredRound, live: LiveEstate): Promise<void> {
  const missing = missingOf(round, await countNumbers(tx, [round.id]), live);
  if (missing.length > 0) throw refusal(409, `This round still needs ${missing.join(', and ')}.`);
}

async function setRemoved(context: SignedIn, isRemoved: boolean) {
  const { services, params, account } = context;
  await inTransaction(services.db, async (tx) => {
    const round = await readRound(tx, Number(params.id), true);
    if (!round) throw refusal(404, 'There is no such round.');
    if ((round.removedAt !== null) === isRemoved) return;
    if (round.state === 'running' || round.state === 'paused')
      throw refusal(409, 'Stop this round before you remove it.');
    await patchRound(tx, round.id, { removedAt: isRemoved ? services.now() : null });
    await addRecord(tx, {
      who: account.name,
      kind: isRemoved ? 'round-removed' : 'round-restored',
      subject: round.plan.name,
    });
  });
  return { status: 204 };
}

export const roundRoutes: readonly Route[] = [
  {
    method: 'GET',
    path: '/api/rounds',
    roles: MAY_SEE,
    handle: async ({ services }) => {
      const all = await allRounds(services.db);
      const rounds = all.filter(({ removedAt }) => removedAt === null);
      const counted = await countNumbers(
        services.db,
        rounds.map(({ id }) => id),
      );
      const nowMs = services.now().getTime();
      return {
        body: {
          rounds: rounds.map((round) => rowOf(round, counted, nowMs)),
          removed: all
            .filter(({ removedAt }) => removedAt !== null)
            .map(({ id, plan }) => ({ id, name: plan.name })),
        } satisfies RoundsPage,
      };
    },
  },
  {
    method: 'POST',
    path: '/api/rounds',
    roles: MAY_CHANGE,
    handle: async ({ services, account, body }) => {
      const { name } = checkedBody<{ name: string }>(body, newBody);
      const { estate } = await services.store.current();
      if ((await countRounds(services.db)) >= MOST_ROUNDS)
        throw refusal(409, `${MOST_ROUNDS} rounds are kept at most.`);
      const [permission] = estate.permissions;
      const id = await inTransaction(services.db, async (tx) => {
        const made = await insertRound(tx, {
          plan: beginningRound(name.trim(), permission?.id ?? 'none'),
          by: account.id,
          at: services.now(),
        });
        await addRecord(tx, { who: account.name, kind: 'round-added', subject: name.trim() });
        return made;
      });
      return { status: 201, body: { id } };
    },
  },
  {
    method: 'GET',
    path: '/api/rounds/:id',
    roles: MAY_SEE,
    handle: async (context) => ({ body: await pageOf(context, await mustFind(context)) }),
  },
  {
    /** How the list is called. The list is judged anew, for another permission lets others be called. */
    method: 'PUT',
    path: '/api/rounds/:id',
    roles: MAY_CHANGE,
    handle: async (context) => {
      const { services, account, params } = context;
      const { plan: given, version } = checkedBody<{ version: number; plan: unknown }>(
        context.body,
        planBody,
      );
      const live = await services.store.current();
      const plan = checkedPlan(live, given);
      const { estate } = live;
      if (!estate.permissions.some(({ id }) => id === plan.permission))
        throw notRight([{ path: 'plan.permission', message: 'is no permission' }]);
      if (plan.recording !== null && !(await recordingOf(services.db, plan.recording)))
        throw notRight([{ path: 'plan.recording', message: 'is no recording' }]);
      for (const [nth, { play }] of (plan.keys ?? []).entries())
        if (play !== null && !(await recordingOf(services.db, play)))
          throw notRight([{ path: `plan.keys[${nth}].play`, message: 'is no recording' }]);
      const file = await listFileOf(services.db, Number(params.id));
      const list = file && (await judged(services, file, plan));
      await inTransaction(services.db, async (tx) => {
        const round = await lockedRound(tx, Number(params.id), CHANGEABLE, version);
        await patchRound(tx, round.id, {
          plan: { ...plan, name: plan.name.trim() },
          ...backToDraft(account),
        });
        if (list?.ok && round.plan.permission !== plan.permission)
          await putNumbers(tx, round.id, list.rows, services.now());
        await addRecord(tx, { who: account.name, kind: 'round-changed', subject: plan.name });
      });
      return { body: await pageOf(context, await mustFind(context)) };
    },
  },
  {
    /** The list, as CSV; `?name=` is that of its file, `?version=` the round as it was seen. */
    method: 'PUT',
    path: '/api/rounds/:id/list',
    roles: MAY_CHANGE,
    rawBody: true,
    limit: MOST_LIST_BYTES,
    handle: async (context) => {
      const { services, account, params, body, query } = context;
      const version = Number(query.version);
      if (!Number.isSafeInteger(version)) throw refusal(400, 'This request could not be read.');
      if (!Buffer.isBuffer(body) || body.length === 0) throw refusal(400, 'The list is empty.');
      const file = new Uint8Array(body);
      const { plan } = await mustFind(context);
      const list = await judged(services, file, plan);
      if (!list.ok)
        throw refusal(422, 'This list cannot be read.', {
          extra: { placed: list.faults },
        });
      if (list.rows.length === 0) throw refusal(422, 'There is no number in this list.');
      await inTransaction(services.db, async (tx) => {
        const round = await lockedRound(tx, Number(params.id), CHANGEABLE, version);
        await patchRound(tx, round.id, {
          listName: (query.name ?? 'list').trim().slice(0, 200) || 'list',
          listFile: file,
          ...backToDraft(account),
        });
        await putNumbers(tx, round.id, list.rows, services.now());
        await addRecord(tx, {
          who: account.name,
          kind: 'round-changed',
          subject: round.plan.name,
          detail: `a list of ${list.rows.length}`,
        });
      });
      return { body: await pageOf(context, await mustFind(context)) };
    },
  },
  step('ask', ['draft'], 'round-asked', async (tx, round, { account, live }) => {
    await mustHaveAll(tx, round, live);
    await patchRound(tx, round.id, { state: 'asked', askedBy: account.id, askedName: account.name });
  }),
  step('withdraw', ['asked', 'approved'], 'round-withdrawn', (tx, round) =>
    patchRound(tx, round.id, {
      state: 'draft',
      askedBy: null,
      askedName: null,
      approvedName: null,
      approvedAt: null,
    }),
  ),
  step(
    'approve',
    ['asked'],
    'round-approved',
    async (tx, round, { services, account }) => {
      const why = whyNotApprove(round, account);
      if (why !== null) throw refusal(403, why);
      await patchRound(tx, round.id, {
        state: 'approved',
        approvedName: account.name,
        approvedAt: services.now(),
      });
    },
    MAY_SEE,
  ),
  step('start', ['approved'], 'round-started', async (tx, round, { services, live }) => {
    await mustHaveAll(tx, round, live);
    await patchRound(tx, round.id, { state: 'running', startedAt: services.now() });
  }),
  step('pause', ['running'], 'round-paused', (tx, round) => patchRound(tx, round.id, { state: 'paused' })),
  step('resume', ['paused'], 'round-resumed', (tx, round) => patchRound(tx, round.id, { state: 'running' })),
  step('stop', ['running', 'paused'], 'round-stopped', (tx, round, { services }) =>
    patchRound(tx, round.id, { state: 'stopped', endedAt: services.now() }),
  ),
  {
    method: 'DELETE',
    path: '/api/rounds/:id',
    roles: MAY_CHANGE,
    handle: (context) => setRemoved(context, true),
  },
  {
    method: 'POST',
    path: '/api/rounds/:id/restore',
    roles: MAY_CHANGE,
    handle: (context) => setRemoved(context, false),
  },
];
