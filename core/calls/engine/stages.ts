import {
  innerOf,
  type SettingRef,
  entryOf,
  type CodeStage,
  type Ms,
  type OfferStage,
  type Person,
  type RingTarget,
  type SimpleEnding,
  type Stage,
} from '../../estate';
import { ringStage } from './ring';
import type { EstateIndex } from './compile';
import type { PlannedTarget } from './leg';
import { band, codeOf, note, payerOf, pressOf, seconds, waitUntil, type Run, type Stop } from './state';
import type { Outcome } from './types';

/** How the stages of a treatment, or a group's round, come out. */
export type StagesResult =
  | Stop
  | { readonly ending: SimpleEnding; readonly setting: SettingRef }
  | Over
  | 'through'
  | 'no-press';
/** The queue that they were run in has ended. */
export type Over = { readonly queueOver: true };

export const stop = (outcome: Outcome): Stop => ({ stop: outcome });

/** The press made in an offer or menu, if its key is a choice and it comes in time. */
export function pressIn<E>(
  run: Run,
  id: string,
  choices: readonly { key: string; then: E }[],
  withinMs: Ms,
): { afterMs: Ms; key: string; then: E } | null {
  const press = pressOf(
    run,
    id,
    choices.map(({ key }) => key),
  );
  const choice = press && choices.find((each) => each.key === press.key);
  return press && choice && press.afterMs <= withinMs ? { ...press, then: choice.then } : null;
}

/** Waits for something that a queue's end cuts off. */
export function waitInStage(run: Run, untilMs: Ms): Stop | Over | null {
  const stopped = waitUntil(run, Math.min(untilMs, run.queueEndMs));
  return stopped ?? (run.queueEndMs < untilMs ? { queueOver: true } : null);
}

function runOffer(run: Run, { offer }: OfferStage, setting: SettingRef): StagesResult {
  const total = offer.greetingMs + offer.waitMs;
  note(
    run,
    'offer',
    () =>
      `A greeting of ${seconds(offer.greetingMs)} offers ${offer.choices.map((c) => `key ${c.key}`).join(', ') || 'nothing'}, then ${seconds(offer.waitMs)} of silence.`,
    { setting },
  );
  const press = pressIn(run, 'offer', offer.choices, total);
  const from = run.now;
  const cut = waitInStage(run, run.now + (press ? press.afterMs : total));
  band(run, 'offer', from, 'greeting and choice', setting);
  if (cut) return cut;
  if (!press) {
    note(run, 'offer', () => 'The caller presses no key that is offered.', { setting });
    return 'no-press';
  }
  note(run, 'pressed', () => `The caller presses ${press.key}.`, { setting });
  return press.then === 'next' ? 'through' : { ending: press.then, setting };
}

function runCode(run: Run, { code }: CodeStage, setting: SettingRef): StagesResult {
  const entered = codeOf(run, code.digits.length);
  const inTime = entered && entered.afterMs <= code.withinMs ? entered : null;
  note(run, 'code', () => `The caller is asked for a code, within ${seconds(code.withinMs)}.`, { setting });
  const from = run.now;
  const cut = waitInStage(run, run.now + (inTime ? inTime.afterMs : code.withinMs));
  band(run, 'code', from, 'code asked for', setting);
  if (cut) return cut;
  const right = inTime?.digits === code.digits;
  note(
    run,
    'code',
    () => (right ? 'The code is right.' : inTime ? 'The code is wrong.' : 'No code is entered in time.'),
    { setting },
  );
  return right ? 'through' : { ending: code.wrong, setting: innerOf(setting, 'code', 'wrong') };
}

export function plannedTargets(
  run: Run,
  ring: readonly RingTarget[],
  person: Person,
  setting: SettingRef,
): readonly PlannedTarget[] {
  let all = planned.get(run.index);
  if (!all) {
    all = new Map();
    planned.set(run.index, all);
  }
  const before = all.get(setting);
  if (before) return before;
  const payer = payerOf(person);
  const targets = ring.flatMap((target, i) => {
    const known = run.index.endpoints.get(target.endpoint);
    return known ? [{ target, known, payer, setting: entryOf(setting, 'ring', i) }] : [];
  });
  all.set(setting, targets);
  return targets;
}
/** The targets of each stage, by its setting: the same in every call through an estate. */
const planned = new WeakMap<EstateIndex, Map<string, readonly PlannedTarget[]>>();

/** Runs the stages of a treatment once, from now. */
export function runStages(
  run: Run,
  stages: readonly Stage[],
  person: Person,
  setting: SettingRef,
): StagesResult {
  for (const [i, stage] of stages.entries()) {
    if (run.now >= run.queueEndMs) return { queueOver: true };
    const at = entryOf(setting, 'stages', i);
    if ('ring' in stage) {
      note(run, 'stage', () => `Step ${i + 1}: ring for ${seconds(stage.forMs)}.`, {
        person: person.id,
        setting: at,
      });
      const result = ringStage(run, plannedTargets(run, stage.ring, person, at), stage.forMs, at);
      if (!('through' in result)) return result;
      continue;
    }
    const result = 'offer' in stage ? runOffer(run, stage, at) : runCode(run, stage, at);
    if (result !== 'through') return result;
  }
  return 'through';
}
