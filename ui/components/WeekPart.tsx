import { useState } from 'react';
import type { Estate, PersonId } from '../../core/estate';
import {
  CIRCUMSTANCE_WORDS,
  CIRCUMSTANCES,
  type Circumstance,
  type EstateIndex,
  type WeekCell,
} from '../../core/reach';
import { WeekMap } from '../drawings/WeekMap';
import { useWeek } from '../hooks/useWeek';
import { Choice, Section, Trouble } from './parts';

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);
const OPTIONS = CIRCUMSTANCES.map((value) => ({ value, label: capital(CIRCUMSTANCE_WORDS[value]) }));

/** Through the week: where calls for a person, or for the worst of several, end at each half hour. */
export function WeekPart({
  slice,
  people,
  index,
  atMs,
  onCell,
}: {
  readonly slice: Estate;
  readonly people: readonly PersonId[];
  readonly index: EstateIndex;
  readonly atMs: number;
  readonly onCell: (cell: WeekCell, circumstance: Circumstance) => void;
}) {
  const [circumstance, setCircumstance] = useState<Circumstance>('nobody');
  const week = useWeek(slice, people, circumstance, atMs);
  return (
    <Section title="Through the week">
      <Choice label="Circumstance" value={circumstance} options={OPTIONS} onChange={setCircumstance} />
      {week.trouble ? (
        <Trouble message={week.trouble} />
      ) : (
        <WeekMap
          days={week.days}
          index={index}
          zone={slice.timeZone}
          atMs={atMs}
          onCell={(cell) => onCell(cell, circumstance)}
        />
      )}
    </Section>
  );
}
