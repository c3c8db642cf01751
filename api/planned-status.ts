/** A status that somebody has from one moment to another; afterwards it is as it was. */
export interface PlannedStatus {
  readonly id: number;
  readonly status: string;
  /** ISO 8601, UTC. */
  readonly from: string;
  readonly to: string;
  readonly state: 'planned' | 'on';
  readonly madeBy: string;
}
