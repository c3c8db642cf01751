import type { SettingStep } from './setting';
import type { Ending, Group, Line, Menu, Person, SimpleEnding, Treatment } from './types';

/** What must happen for a call to come to an ending. */
export type EndingCase =
  | { readonly of: 'unanswered' }
  | { readonly of: 'busy' }
  | { readonly of: 'key'; readonly key: string }
  | { readonly of: 'wrong-code' }
  | { readonly of: 'no-key' }
  | { readonly of: 'forwarded' }
  | { readonly of: 'forwarded-after' };

/** An ending, where it stands in what it belongs to, and when a call comes to it. */
export interface PlacedEnding {
  readonly ending: Ending;
  /** The way to it from there. */
  readonly setting: readonly SettingStep[];
  readonly case: EndingCase;
}

/** Every ending that a treatment can come to. */
export const endingsIn = (treatment: Treatment): readonly PlacedEnding[] => [
  { ending: treatment.ending, setting: ['ending'], case: { of: 'unanswered' } },
  ...(treatment.busy
    ? [{ ending: treatment.busy, setting: ['busy'], case: { of: 'busy' } } satisfies PlacedEnding]
    : []),
  ...treatment.stages.flatMap((stage, i): PlacedEnding[] => {
    if ('ring' in stage) return [];
    if ('code' in stage)
      return [
        { ending: stage.code.wrong, setting: [['stages', i], 'code', 'wrong'], case: { of: 'wrong-code' } },
      ];
    return stage.offer.choices.flatMap(({ key, then }): PlacedEnding[] =>
      then === 'next'
        ? []
        : [
            {
              ending: then,
              setting: [['stages', i], 'offer', ['choices', key], 'then'],
              case: { of: 'key', key },
            },
          ],
    );
  }),
];

/** Where a line sends calls on without a plan being asked: now, and once its forward is over. */
export const endingsInLine = ({ forwardAll, forwardAfter }: Line): readonly PlacedEnding[] => [
  ...(forwardAll
    ? [{ ending: forwardAll, setting: ['forwardAll'], case: { of: 'forwarded' } } satisfies PlacedEnding]
    : []),
  ...(forwardAfter
    ? [
        {
          ending: forwardAfter,
          setting: ['forwardAfter'],
          case: { of: 'forwarded-after' },
        } satisfies PlacedEnding,
      ]
    : []),
];

/** Every ending of a menu, case by case. */
export const endingsInMenu = (menu: Menu): readonly PlacedEnding[] =>
  menu.rules.flatMap((rule) => [
    ...rule.choices.map(({ key, then }): PlacedEnding => ({
      ending: then,
      setting: [['rules', rule.id], ['choices', key], 'then'],
      case: { of: 'key', key },
    })),
    { ending: rule.otherwise, setting: [['rules', rule.id], 'otherwise'], case: { of: 'no-key' } },
  ]);

/** Every ending that a person's plan and forwards, a group or a menu can come to. */
export const endingsOf = (object: Person | Group | Menu): readonly Ending[] => {
  if ('members' in object) return [object.ending];
  if ('plan' in object)
    return [
      ...object.lines.flatMap(endingsInLine),
      ...[...object.plan.rules, object.plan.otherwise].flatMap(endingsIn),
    ].map(({ ending }) => ending);
  return endingsInMenu(object).map(({ ending }) => ending);
};

/** What an ending comes to in the end: of a queue, what follows it. */
export const lastOf = (ending: Ending): SimpleEnding => (ending.kind === 'queue' ? ending.then : ending);
