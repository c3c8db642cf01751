import { useState } from 'react';
import { capital, type Estate, type PersonId } from '../../core/estate';
import {
  CIRCUMSTANCE_WORDS,
  CIRCUMSTANCES,
  WEEK_END_WORDS,
  type Circumstance,
  type WeekCell,
} from '../../core/calls/views';
import type { EstateIndex } from '../../core/calls/engine';
import { WeekMap } from '../drawings/WeekMap';
import { useWeek } from '../data/useWeek';
import { Choice, Section, Trouble } from '../kit/parts';

const GROUP_WORDS = {
  ...WEEK_END_WORDS,
  'own-phone': 'answered by one of the group',
  colleague: 'answered by somebody else',
  'own-mailbox': 'mailbox of one of the group',
};
const OPTIONS = CIRCUMSTANCES.map((value) => ({ value, label: capital(CIRCUMSTANCE_WORDS[value]) }));

/** Through the week: where calls for a person, or for the worst of several, end at each half hour. */
export function WeekPart({
  slice,
  people,
  index,
  atMs,
  group,
  onCell,
}: {
  readonly slice: Estate;
  readonly people: readonly PersonId[];
  readonly index: EstateIndex;
  readonly atMs: number;
  /** The extension of the group that these people are, where calls to it can be shown too. */
  readonly group?: string;
  readonly onCell: (cell: WeekCell, circumstance: Circumstance) => void;
}) {
  const [circumstance, setCircumstance] = useState<Circumstance>('nobody');
  const [calls, setCalls] = useState<'group' | 'each'>(group === undefined ? 'each' : 'group');
  const toGroup = group !== undefined && calls === 'group';
  const week = useWeek(slice, people, circumstance, atMs, toGroup ? group : null);
  return (
    <Section title="Through the week" term="week-map">
      {group === undefined ? null : (
        <Choice
          label="Whose calls"
          value={calls}
          options={[
            { value: 'group', label: 'Calls to the group' },
            { value: 'each', label: 'Each member’s own: the worst' },
          ]}
          onChange={setCalls}
        />
      )}
      <Choice label="Circumstance" value={circumstance} options={OPTIONS} onChange={setCircumstance} />
      {week.trouble ? (
        <Trouble message={week.trouble} />
      ) : (
        <WeekMap
          days={week.days}
          index={index}
          zone={slice.timeZone}
          atMs={atMs}
          words={toGroup ? GROUP_WORDS : WEEK_END_WORDS}
          onCell={(cell) => onCell(cell, circumstance)}
        />
      )}
    </Section>
  );
}
