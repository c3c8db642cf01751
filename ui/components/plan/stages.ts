import type { Estate, Person, Stage, TreatmentAt } from '../../../core/estate';
import type { EstateIndex } from '../../../core/reach';

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
