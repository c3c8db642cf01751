import type { RoundCounts, RoundPage, RoundRow } from '../../api/rounds';
import { isoIn } from '../../core/calls/time';
import { channelsFor, mayCallAt, nextAllowedMs, type KeptState, type NumberState } from '../../core/rounds';
import { refusal, type Account } from '../base';
import type { LiveEstate } from '../estate';
import type { SignedIn } from '../http';
import { recordingOf } from '../recordings';
import { countNumbers, readRound, type StoredRound } from './queries';

/** How a number stands now: whoever waits where it is too early or too late is told apart. */
export function stateNow(
  round: StoredRound,
  { state, zone }: { readonly state: KeptState; readonly zone: string | null },
  nowMs: number,
): NumberState {
  return state === 'waiting' && zone !== null && !mayCallAt(round.plan, zone, nowMs)
    ? 'not-allowed-now'
    : state;
}

type Counted = Awaited<ReturnType<typeof countNumbers>>;

/** Counts as they are shown: whoever waits where it is too early or too late is told apart. */
function countsOf(
  round: StoredRound,
  counted: Counted,
  nowMs: number,
): { counts: RoundCounts; total: number } {
  const counts: Partial<Record<NumberState, number>> = {};
  let total = 0;
  for (const { round: id, state, zone, count } of counted) {
    if (id !== round.id) continue;
    total += count;
    const shown: NumberState =
      state === 'waiting' && zone !== null && !mayCallAt(round.plan, zone, nowMs) ? 'not-allowed-now' : state;
    counts[shown] = (counts[shown] ?? 0) + count;
  }
  return { counts, total };
}

export const rowOf = (round: StoredRound, counted: Counted, nowMs: number): RoundRow => ({
  id: round.id,
  name: round.plan.name,
  state: round.state,
  ...countsOf(round, counted, nowMs),
  madeAt: round.madeAt.toISOString(),
  startedAt: round.startedAt?.toISOString() ?? null,
  endedAt: round.endedAt?.toISOString() ?? null,
});

export function missingOf(
  { plan, listName }: StoredRound,
  counted: Counted,
  { estate }: LiveEstate,
): readonly string[] {
  const isAnyWaiting = counted.some(({ state }) => state === 'waiting');
  return [
    ...(plan.recording === null ? ['a recording'] : []),
    ...(listName === null
      ? ['a list of numbers']
      : !isAnyWaiting
        ? ['a number on the list that may be called']
        : []),
    ...(estate.permissions.some(({ id }) => id === plan.permission) ? [] : ['a permission that there is']),
    ...(channelsFor(estate.trunks, plan.keepFree) > 0
      ? []
      : ['a channel to call by: fewer must be kept free for people']),
  ];
}

export function whyNotApprove({ state, changedBy, askedBy }: StoredRound, account: Account): string | null {
  if (state !== 'asked') return 'Approval has not been asked for.';
  return account.id === changedBy || account.id === askedBy
    ? 'Somebody other than its maker must approve this round.'
    : null;
}

export async function pageOf({ services, account }: SignedIn, round: StoredRound): Promise<RoundPage> {
  const live = await services.store.current();
  const nowMs = services.now().getTime();
  const counted = await countNumbers(services.db, [round.id]);
  const row = rowOf(round, counted, nowMs);
  const waiting = counted.filter(({ state }) => state === 'waiting');
  const next = nextAllowedMs(
    round.plan,
    waiting.flatMap(({ zone }) => zone ?? []),
    nowMs,
  );
  const { recording } = round.plan;
  return {
    ...row,
    plan: round.plan,
    version: round.version,
    recording: recording === null ? null : await recordingOf(services.db, recording),
    keys: await Promise.all(
      (round.plan.keys ?? []).map(async ({ key, play }) => ({
        key,
        recording: play === null ? null : await recordingOf(services.db, play),
      })),
    ),
    listName: round.listName,
    askedBy: round.askedName,
    approvedBy: round.approvedName,
    approvedAt: round.approvedAt?.toISOString() ?? null,
    missing: missingOf(round, counted, live),
    whyNotApprove: whyNotApprove(round, account),
    nextAt: next === null ? null : isoIn(next, live.estate.timeZone),
    permissions: live.estate.permissions.map(({ id, name }) => ({ id, name })),
    channels: channelsFor(live.estate.trunks, round.plan.keepFree),
  };
}

type Context = Pick<SignedIn, 'services' | 'params'>;

/** @throws Refusal 404 */
export async function mustFind({ services, params }: Context): Promise<StoredRound> {
  const round = await readRound(services.db, Number(params.id));
  if (!round) throw refusal(404, 'There is no such round.');
  return round;
}
