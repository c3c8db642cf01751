import { fieldOf, type Ending, type Ms, type SimpleEnding } from '../../estate';
import { bareNumber, bareUri } from './compile';
import { endingText } from './explain';
import type { PlannedTarget } from './leg';
import { NO_ROUND, type Next, type Owner } from './next';
import { ringStage } from './ring';
import { stop, type StagesResult } from './stages';
import { band, note, seconds, waitUntil, type Run, type Stop } from './state';

/** How long the last leg of a call rings at most. */
export const LAST_LEG_MS: Ms = 60_000;
const QUEUE_PAUSE_MS: Ms = 1000;

/** The last leg of a call: an ending that dials one endpoint, number or URI (step 12). */
function lastLeg(run: Run, planned: PlannedTarget): Stop {
  const result = ringStage(run, [planned], LAST_LEG_MS, planned.setting);
  if ('stop' in result) return result;
  const end = run.legs.at(-1)?.end ?? 'no-answer';
  return stop(
    end === 'no-answer'
      ? { kind: 'unanswered', atMs: run.now }
      : { kind: 'failed', atMs: run.now, reason: end },
  );
}

/** Holds the caller until the queue's time is over, going through the rounds again and again. */
function runQueue(
  run: Run,
  maxMs: Ms,
  then: SimpleEnding,
  owner: Owner,
  round: () => StagesResult,
): Next | Stop {
  const from = run.now;
  run.queueEndMs = run.now + maxMs;
  note(run, 'queue', () => `The caller waits, ${seconds(maxMs)} at most.`, { setting: owner.setting });
  let result: StagesResult = { queueOver: true };
  while (run.now < run.queueEndMs) {
    const began = run.now;
    result = round === NO_ROUND ? 'through' : round();
    if (result !== 'through') break;
    if (run.now > began) continue;
    const until = round === NO_ROUND ? run.queueEndMs : began + QUEUE_PAUSE_MS;
    const stopped = waitUntil(run, Math.min(until, run.queueEndMs));
    if (stopped) return stopped;
  }
  run.queueEndMs = Number.POSITIVE_INFINITY;
  band(run, 'queue', from, `waits up to ${seconds(maxMs)}`, owner.setting);
  if (typeof result === 'object' && 'stop' in result) return result;
  if (typeof result === 'object' && 'ending' in result)
    return {
      go: 'ending',
      ending: result.ending,
      owner: { ...owner, setting: result.setting },
      round: NO_ROUND,
    };
  return {
    go: 'ending',
    ending: then,
    owner: { ...owner, setting: fieldOf(owner.setting, 'then') },
    round: NO_ROUND,
  };
}

/** Counts a step from one person, group or menu to the next. */
function hop(run: Run, next: Next): Next | Stop {
  run.hops += 1;
  return run.hops > run.index.settings.hopLimit
    ? stop({ kind: 'failed', atMs: run.now, reason: 'too-many-hops' })
    : next;
}

const GONE = 'no-such-number';

const failed = (run: Run, reason: string): Stop => stop({ kind: 'failed', atMs: run.now, reason });

const last = (
  run: Run,
  { payer, setting }: Owner,
  known: PlannedTarget['known'] | undefined,
  endpoint: string,
  present?: string,
): Stop =>
  known
    ? lastLeg(run, { target: { endpoint, ...(present ? { present } : {}) }, known, payer, setting })
    : failed(run, GONE);

/** What happens when the stages are through (step 12). */
export function runEnding(run: Run, ending: Ending, owner: Owner, round: () => StagesResult): Next | Stop {
  note(run, 'ending', () => endingText(run.index, ending, owner.person), { setting: owner.setting });
  switch (ending.kind) {
    case 'mailbox': {
      const person = ending.person ? run.index.people.get(ending.person) : owner.person;
      if (!person || person.mailbox?.enabled === false) return failed(run, 'no-mailbox');
      return stop({ kind: 'mailbox', atMs: run.now, person: person.id });
    }
    case 'person': {
      const person = run.index.people.get(ending.person);
      if (!person) return failed(run, GONE);
      run.cameBy = owner.isMenu ? 'menu' : 'forwarded';
      return hop(run, { go: 'person', person, line: person.lines[0] });
    }
    case 'group': {
      const group = run.index.groups.get(ending.group);
      return group ? hop(run, { go: 'group', group }) : failed(run, GONE);
    }
    case 'menu': {
      const menu = run.index.menus.get(ending.menu);
      return menu ? hop(run, { go: 'menu', menu }) : failed(run, GONE);
    }
    case 'hang-up':
      return stop({ kind: 'hung-up', atMs: run.now, message: ending.message });
    case 'endpoint':
      return last(run, owner, run.index.endpoints.get(ending.endpoint), ending.endpoint, ending.present);
    case 'number': {
      const { number } = ending;
      return last(run, owner, bareNumber(number), number, ending.present);
    }
    case 'sip': {
      const { uri } = ending;
      return last(run, owner, bareUri(uri), uri);
    }
    case 'queue':
      return runQueue(run, ending.maxMs, ending.then, owner, round);
  }
}
