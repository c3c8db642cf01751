import {
  entryOf,
  fieldOf,
  type SettingRef,
  settingOf,
  type Group,
  type Line,
  type Menu,
  type Person,
} from '../../estate';
import { callerHolds, chooseTreatment, scheduleHeld } from './choose';
import { forwardOf, groupRound } from './group-round';
import { NO_ROUND, type Next, type Owner } from './next';
import { pressIn, runStages, stop, type StagesResult } from './stages';
import {
  activeCallsOf,
  arrivalOf,
  band,
  callerOf,
  note,
  payerOf,
  seconds,
  waitUntil,
  type Run,
  type Stop,
} from './state';

const ownerOf = (person: Person, setting: SettingRef): Owner => ({
  person,
  payer: payerOf(person),
  isMenu: false,
  setting,
});

/** Step 2: a person's line is called. */
export function runPerson(run: Run, person: Person, line: Line | undefined): Next | Stop {
  if (run.askedPeople.has(person.id)) return stop({ kind: 'loop', atMs: run.now, person: person.id });
  run.askedPeople.add(person.id);
  const base = settingOf('people', person.id);
  const forwarded = forwardOf(run, line);
  if (line && forwarded) {
    const setting = fieldOf(entryOf(base, 'lines', line.id), 'forwardAll');
    run.path.push({ person: person.id, rule: 'forward-all' });
    note(run, 'rule', () => `Call forwarding is on for ${person.name}'s line ${line.extension}.`, {
      person: person.id,
      setting,
    });
    return { go: 'ending', ending: forwarded, owner: ownerOf(person, setting), round: NO_ROUND };
  }
  const { rule, name, treatment } = chooseTreatment(person, {
    caller: () => callerOf(run),
    arrival: () => arrivalOf(run),
    line,
    inside: (test) => scheduleHeld(run, test),
  });
  const setting = rule
    ? entryOf(fieldOf(base, 'plan'), 'rules', rule.id)
    : fieldOf(fieldOf(base, 'plan'), 'otherwise');
  const active = activeCallsOf(run, person.id);
  if (active >= person.maxCalls) {
    run.path.push({ person: person.id, rule: 'busy' });
    note(run, 'rule', () => `${person.name} has ${active} of ${person.maxCalls} calls already.`, {
      person: person.id,
      setting: fieldOf(base, 'maxCalls'),
    });
    const ending = treatment.busy ?? treatment.ending;
    return {
      go: 'ending',
      ending,
      owner: ownerOf(person, fieldOf(setting, treatment.busy ? 'busy' : 'ending')),
      round: NO_ROUND,
    };
  }
  run.path.push({ person: person.id, rule: name });
  note(
    run,
    'rule',
    () =>
      rule
        ? `${person.name}'s rule "${rule.name}" is the first that fits.`
        : person.plan.rules.length > 0
          ? `None of ${person.name}'s rules fits: the plan's default rule applies.`
          : `${person.name}'s plan has no rules: the default rule is for every call.`,
    { person: person.id, setting },
  );
  return afterRound(runStages(run, treatment.stages, person, setting), {
    go: 'ending',
    ending: treatment.ending,
    owner: ownerOf(person, fieldOf(setting, 'ending')),
    round: () => runStages(run, treatment.stages, person, setting),
  });
}

/** What follows once a round of stages is through outside a queue. */
function afterRound(result: StagesResult, then: Extract<Next, { go: 'ending' }>): Next | Stop {
  if (typeof result === 'string') return then;
  if ('stop' in result) return result;
  if ('queueOver' in result) return then;
  return {
    go: 'ending',
    ending: result.ending,
    owner: { ...then.owner, setting: result.setting },
    round: NO_ROUND,
  };
}

/** Step 13: a group is called. */
export function runGroup(run: Run, group: Group): Next | Stop {
  if (run.visitedGroups.has(group.id)) return stop({ kind: 'loop', atMs: run.now });
  run.visitedGroups.add(group.id);
  run.cameBy = 'group';
  run.path.push({ group: group.id });
  const setting = settingOf('groups', group.id);
  note(
    run,
    'group',
    () =>
      `The group ${group.name} rings its members ${group.mode === 'simultaneous' ? 'together' : 'one after another'}, ${seconds(group.ringMs)} ${group.mode === 'simultaneous' ? 'in all' : 'each'}.`,
    { setting },
  );
  const owner: Owner = { person: null, payer: group, isMenu: false, setting: fieldOf(setting, 'ending') };
  return afterRound(groupRound(run, group), {
    go: 'ending',
    ending: group.ending,
    owner,
    round: () => groupRound(run, group),
  });
}

/** Step 14: a menu is called. */
export function runMenu(run: Run, menu: Menu): Next | Stop {
  if (run.visitedMenus.has(menu.id)) return stop({ kind: 'loop', atMs: run.now });
  run.visitedMenus.add(menu.id);
  const rule = menu.rules.find(
    ({ when }) =>
      (!when.schedule || scheduleHeld(run, when.schedule)) &&
      (!when.caller || callerHolds(when.caller, callerOf(run))),
  );
  if (!rule) return stop({ kind: 'failed', atMs: run.now, reason: 'no-such-number' });
  const setting = entryOf(settingOf('menus', menu.id), 'rules', rule.id);
  run.path.push({ menu: menu.id, rule: rule.id });
  note(
    run,
    'menu',
    () =>
      `The menu ${menu.name} plays a greeting of ${seconds(rule.greetingMs)} and offers ${rule.choices.map((c) => `key ${c.key}`).join(', ') || 'nothing'}.`,
    { setting },
  );
  const total = rule.greetingMs + rule.waitMs;
  const press = pressIn(run, menu.id, rule.choices, total);
  const from = run.now;
  const stopped = waitUntil(run, run.now + (press ? press.afterMs : total));
  band(run, 'menu', from, `menu ${menu.name}`, setting, menu.id);
  if (stopped) return stopped;
  note(
    run,
    'pressed',
    () => (press ? `The caller presses ${press.key}.` : 'The caller presses no key that is offered.'),
    { setting },
  );
  const owner: Owner = { person: null, payer: menu, isMenu: true, setting };
  return { go: 'ending', ending: press ? press.then : rule.otherwise, owner, round: NO_ROUND };
}
