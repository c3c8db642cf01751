import {
  innerOf,
  onceFor,
  type SettingRef,
  settingOf,
  endingsIn,
  endingsInLine,
  endingsInMenu,
  lastOf,
  type Endpoint,
  type Menu,
  type Ms,
  type Person,
  type RingTarget,
  type Rule,
  type SimpleEnding,
  type Treatment,
  type EndingCase,
  type PlacedEnding,
} from '../../estate';
import { lowerFirst } from '../../calls/engine';
import type { SlateEntry, ListKind } from '../../changes/slate';
import type { CheckContext } from './types';

/** One place in a plan at which a phone rings. */
export interface TargetPlace {
  readonly target: RingTarget;
  readonly rule: Rule | null;
  readonly treatment: string;
  readonly stage: number;
  /** Which of the phones of its step it is, from 0. */
  readonly nth: number;
  readonly forMs: Ms;
  /** Where it stands, as a path by ids. */
  readonly setting: SettingRef;
  /** In words: `the rule “Night”`, `the default rule`. */
  readonly where: string;
}

export interface TreatmentPlace {
  readonly treatment: Treatment;
  readonly rule: Rule | null;
  readonly at: string;
  readonly setting: SettingRef;
  readonly where: string;
}

export const treatmentsOf = ({ id, plan }: Person): readonly TreatmentPlace[] => [
  ...plan.rules.map((rule) => ({
    treatment: rule,
    rule,
    at: rule.id,
    setting: settingOf('people', id, 'plan', ['rules', rule.id]),
    where: `the rule “${rule.name}”`,
  })),
  {
    treatment: plan.otherwise,
    rule: null,
    at: 'otherwise',
    setting: settingOf('people', id, 'plan', 'otherwise'),
    where: plan.rules.length > 0 ? 'the default rule' : 'the plan',
  },
];

/** Every place at which a plan rings a phone, those that are switched off too. */
export const targetsOf = (person: Person): readonly TargetPlace[] =>
  treatmentsOf(person).flatMap(({ treatment, rule, at, setting, where }) =>
    treatment.stages.flatMap((stage, i) =>
      'ring' in stage
        ? stage.ring.map((target, nth) => ({
            target,
            rule,
            treatment: at,
            stage: i,
            nth,
            forMs: stage.forMs,
            setting: innerOf(setting, ['stages', i], ['ring', target.endpoint]),
            where,
          }))
        : [],
    ),
  );
export const isOn = ({ target }: TargetPlace): boolean => target.enabled !== false;

type Rung = Pick<RingTarget, 'endpoint' | 'present'>;
/** The phones that somebody's plan rings, and the number that each is shown, once each, without what is switched off. */
export const rungBy = onceFor((person: Person): readonly Rung[] => {
  const targets = new Map<string, Rung>();
  for (const place of targetsOf(person)) {
    const { endpoint, present } = place.target;
    if (isOn(place)) targets.set(`${endpoint} ${present ?? ''}`, { endpoint, present });
  }
  return [...targets.values()];
});

export interface EndingSetting {
  readonly ending: SimpleEnding;
  readonly setting: SettingRef;
  readonly where: string;
}
const CASES: Readonly<Record<EndingCase['of'], string>> = {
  unanswered: '',
  busy: 'while busy',
  key: '',
  'wrong-code': 'after a wrong code',
  'no-key': 'without a choice',
  forwarded: 'call forwarding',
  'forwarded-after': 'call forwarding after cover',
};
const sayCase = (each: EndingCase): string => (each.of === 'key' ? `key ${each.key}` : CASES[each.of]);
/** An ending by where it stands in the whole; of a queue what follows it, for that is where the call is left. */
const placed =
  (setting: SettingRef, where: string) =>
  ({ ending, setting: at, case: when }: PlacedEnding): EndingSetting => ({
    ending: lastOf(ending),
    setting: innerOf(setting, ...at, ...(ending.kind === 'queue' ? ['then'] : [])),
    where: [where, sayCase(when)].filter(Boolean).join(', '),
  });

/** Every ending that a person's plan and forwards can come to. */
export const endingsOfPerson = (person: Person): readonly EndingSetting[] => [
  ...treatmentsOf(person).flatMap(({ treatment, setting, where }) =>
    endingsIn(treatment).map(placed(setting, where)),
  ),
  ...person.lines.flatMap((line) =>
    endingsInLine(line).map(placed(settingOf('people', person.id, ['lines', line.id]), '')),
  ),
];

export const endingsOfMenu = (menu: Menu): readonly EndingSetting[] =>
  endingsInMenu(menu).map(placed(settingOf('menus', menu.id), ''));

/** A phone's label inside a sentence. */
export const labelOf = ({ label }: Endpoint): string => lowerFirst(label);

/** How many channels the trunks have that carry some of these numbers. */
export function channelsFor(
  numbers: readonly string[],
  { estate, classOf }: Pick<CheckContext, 'estate' | 'classOf'>,
): number {
  const classes = new Set<string>(numbers.map(classOf));
  return estate.trunks
    .filter(({ carries }) => carries.some((each) => classes.has(each)))
    .reduce((sum, trunk) => sum + trunk.channels, 0);
}

/** A mend that changes one object. */
export const mendOf = <T extends { readonly id: string; readonly name: string }>(
  says: string,
  kind: ListKind,
  base: T,
  after: T | null,
): { readonly says: string; readonly entries: readonly [SlateEntry] } => ({
  says,
  entries: [{ kind, id: base.id, name: base.name, base, after }],
});
