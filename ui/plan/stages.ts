import type { Estate, Person, Stage } from '../../core/estate';
import type { TreatmentAt } from '../../core/editing';
import type { EstateIndex } from '../../core/calls/engine';

/** What the editors of stages work on. */
export interface StagesProps {
  readonly person: Person;
  readonly estate: Estate;
  readonly index: EstateIndex;
  readonly at: TreatmentAt;
  readonly stages: readonly Stage[];
  readonly onEdit: (change: (person: Person) => Person, merge?: string) => void;
  readonly onTarget: (endpoint: string, at: TreatmentAt) => void;
}
