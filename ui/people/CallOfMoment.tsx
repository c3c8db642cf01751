import { View } from 'react-native';
import { showNumbersIn } from '../../core/calls/dialling';
import { treatmentAt } from '../../core/editing';
import type { Person } from '../../core/estate';
import { endingPhrase, type Trace } from '../../core/calls/engine';
import { describeTreatment, type Piece } from '../../core/calls/views';
import type { TriedAt } from '../data/useTried';
import { RingStrip } from '../drawings/RingStrip';
import { StripHandles } from '../drawings/StripHandles';
import { Sheeted, Skeleton } from '../kit/parts';
import { space } from '../kit/theme';
import { Words } from '../kit/Words';
import { Ask } from '../kit/Term';

/** The treatment that the call of the moment comes to: a rule's id, or `otherwise`. */
export function treatmentInView(trace: Trace | null): string {
  const first = trace?.path[0];
  return first && 'rule' in first && !['forward-all', 'busy'].includes(first.rule) ? first.rule : 'otherwise';
}

function sentence({ index, tried }: TriedAt, person: Person): readonly Piece[] {
  const first = tried?.trace.path[0];
  const line = person.lines[0];
  if (!first || !('rule' in first)) return [{ text: 'Nothing can be said until there is a line to call.' }];
  if (first.rule === 'forward-all' && line?.forwardAll)
    return [
      { text: 'Call forwarding is on: ' },
      { text: endingPhrase(index, line.forwardAll, person.id), strong: true },
      { text: '. The plan does not count.' },
    ];
  const treatment = treatmentAt(person.plan, treatmentInView(tried?.trace ?? null));
  if (first.rule === 'busy')
    return [{ text: 'Already on a call: ' }, { text: tried?.strip.ending ?? '', strong: true }];
  return describeTreatment(index, treatment, person.id);
}

/** How the call of the moment goes: in one sentence, by which rule, and drawn. */
export function CallOfMoment({
  at,
  person,
  onLane,
  onEdit,
}: {
  readonly at: TriedAt;
  readonly person: Person;
  readonly onLane: (endpoint: string) => void;
  /** Null: it can only be looked at. */
  readonly onEdit: ((change: (person: Person) => Person, merge?: string) => void) | null;
}) {
  const { tried } = at;
  const rule = person.plan.rules.find(({ id }) => id === treatmentInView(tried?.trace ?? null));
  return (
    <>
      <View style={{ paddingHorizontal: space(4), paddingVertical: space(2), gap: 2 }}>
        <Words size="lead">
          {sentence(at, person).map((piece, i) => (
            <Words key={i} size="lead" strong={piece.strong ?? false}>
              {showNumbersIn(piece.text)}
            </Words>
          ))}
        </Words>
        <View style={{ flexDirection: 'row', alignItems: 'center' }}>
          <Words size="small" tone="soft" style={{ flexShrink: 1 }}>
            {rule
              ? `By the rule “${rule.name}”`
              : person.plan.rules.length > 0
                ? 'No rule fits now: the default rule of the plan'
                : 'The plan has no rules: the default rule is for every call'}
          </Words>
          {rule ? <Ask term="ring-strip" /> : <Ask term="default-rule" />}
        </View>
        {at.desk ? (
          <Words size="small" tone="soft">
            {at.desk}
          </Words>
        ) : null}
      </View>
      <Sheeted style={{ paddingVertical: space(2) }}>
        {tried ? (
          <RingStrip
            strip={tried.strip}
            {...(onEdit
              ? {
                  onLane,
                  grips: (layout) => (
                    <StripHandles layout={layout} strip={tried.strip} person={person} onEdit={onEdit} />
                  ),
                }
              : {})}
          />
        ) : at.call ? (
          <Skeleton rows={3} />
        ) : (
          <Words style={{ padding: space(4) }}>This person has no line, so there is nothing to call.</Words>
        )}
      </Sheeted>
    </>
  );
}
