import type { OutcomeKind, Call, EstateIndex } from '../../calls/engine';
import type { SettingRef, Device, Endpoint, Estate, Group, Menu, Permission, Person } from '../../estate';
import type { Finder } from '../../editing';
import type { Classified, NoWayOut } from '../../calls/dialling';
import type { Behind } from '../../changes/restarts';
import type { SlateEntry } from '../../changes/slate';
import type { ScheduleClock } from '../../calls/time';
import type { PartsKeeper } from './parts';

export const WEIGHTS = ['fault', 'risk', 'note'] as const;
/** A fault loses calls or costs money now; a risk can; a note is worth knowing. */
export type Weight = (typeof WEIGHTS)[number];

/** What a finding is about. */
export interface Subject {
  readonly kind:
    | 'person'
    | 'group'
    | 'menu'
    | 'template'
    | 'schedule'
    | 'permission'
    | 'trunk'
    | 'site'
    | 'device'
    | 'seat'
    | 'access'
    | 'organisation';
  readonly id: string;
  readonly name: string;
}

/** Something that shows a finding, and where the setting stands, as a path by ids. */
export interface Evidence {
  readonly text: string;
  readonly setting?: SettingRef;
}

/** A way to put it right: what it does, and the changes of a slate. */
export interface FindingMend {
  readonly says: string;
  readonly entries: readonly SlateEntry[];
}

/** What a check found. */
export interface CheckResult {
  readonly says: string;
  /** Tells findings of one check about one subject apart, and stays the same while the finding does. */
  readonly detail?: string;
  readonly evidence?: readonly Evidence[];
  readonly call?: Call;
  readonly mend?: FindingMend | null;
  /** Where it is not the check's own. */
  readonly weight?: Weight;
}

export interface Finding extends Omit<CheckResult, 'detail' | 'weight'> {
  /** `check/kind/id/detail`: the same as long as the finding is. */
  readonly key: string;
  readonly check: string;
  readonly subject: Subject;
  readonly weight: Weight;
}

/** What checks look at. Everything in it is worked out once and kept. */
export interface CheckContext extends PartsKeeper {
  readonly estate: Estate;
  readonly index: EstateIndex;
  readonly finder: Finder;
  readonly nowMs: number;
  readonly classOf: (e164: string) => Classified;
  /** Why a number cannot be called with a permission; null: it can. */
  readonly noWayOut: (permission: Permission | undefined, e164: string) => NoWayOut | null;
  readonly permission: (id: string) => Permission | undefined;
  readonly clock: (schedule: string) => ScheduleClock | null;
  readonly owner: (endpoint: string) => Person | undefined;
  readonly endpoint: (id: string) => Endpoint | undefined;
  /** How well a call over the line of each softphone sounds (MOS), where it was measured. */
  readonly lineScores: ReadonlyMap<string, number>;
  /** Phones that run something else than they should, where that is known. */
  readonly behind: readonly Behind[];
  /** Whether somebody has left. */
  readonly hasLeft: (person: Person) => boolean;
  /** How an unanswered call from outside ends, at each moment of a year that can differ. */
  readonly unanswered: (person: Person) => readonly Ended[];
  /** What was worked out of the same things before, in this context or in the one that it follows. */
  readonly keep: Keep;
}
/** @param of all that the result hangs on: each the same object or value, and the result is the one of before */
export type Keep = <T>(what: string, of: readonly unknown[], make: () => T) => T;
export interface Ended {
  readonly call: Call;
  readonly kind: OutcomeKind;
  readonly reason: string;
  readonly atMs: number;
  readonly person: string | null;
}

interface CheckBase {
  readonly id: string;
  readonly title: string;
  readonly looksFor: string;
  readonly why: string;
  readonly weight: Weight;
}
/** A check of one kind of thing, each by itself, or of the organisation as a whole. */
export type Check =
  | (CheckBase & {
      readonly of: 'person';
      readonly run: (person: Person, context: CheckContext) => readonly CheckResult[];
    })
  | (CheckBase & {
      readonly of: 'group';
      readonly run: (group: Group, context: CheckContext) => readonly CheckResult[];
    })
  | (CheckBase & {
      readonly of: 'menu';
      readonly run: (menu: Menu, context: CheckContext) => readonly CheckResult[];
    })
  | (CheckBase & {
      readonly of: 'device';
      /** Of people it may read whose the phone is and who is signed on to it. */
      readonly run: (device: Device, context: CheckContext) => readonly CheckResult[];
    })
  | (CheckBase & {
      readonly of: 'organisation';
      readonly run: (context: CheckContext) => readonly (CheckResult & { readonly subject: Subject })[];
    });
