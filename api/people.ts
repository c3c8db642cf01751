import type { Dialling, EndpointKind, Status, Person, Estate } from '../core/estate';
import type { ReachState } from '../core/calls/views';
import type { Behind } from '../core/changes/restarts';
import type { ToldChange } from '../core/changes/slate';

export interface PersonSummary {
  readonly id: string;
  readonly name: string;
  readonly extension: string;
  readonly numbers: readonly string[];
  readonly status: string;
  readonly permission: string;
  readonly template?: string;
  readonly phones: number;
  readonly reach: ReachState;
}

/** A part of the list of people, named by what is in it. */
export interface PeoplePart {
  readonly hash: string;
  /** How many people. */
  readonly count: number;
}

/** Of what the list of people is made; its parts are asked for by their names. */
export interface PeopleHead extends PeopleChoices {
  readonly parts: readonly PeoplePart[];
  /** Those of the first part; null: whoever asks has said that they have it. */
  readonly people: readonly PersonSummary[] | null;
}

/** The rows of parts in the order in which they were asked for; null: a part that is there no more. */
export interface PeopleRows {
  readonly parts: readonly (readonly PersonSummary[] | null)[];
}

/** Those who fit what is looked for, as many as fit into an answer. */
export interface PeopleFound {
  readonly people: readonly PersonSummary[];
  /** How many fit in all. */
  readonly count: number;
}

/** What is given to people, by name. */
export interface PeopleChoices {
  readonly revision: number;
  readonly statuses: readonly Status[];
  readonly permissions: readonly Named[];
  readonly templates: readonly Named[];
}

/** The list of people, as far as it is here. */
export interface PeopleList extends PeopleChoices {
  readonly people: readonly PersonSummary[];
  /** How many there are in all: more than are here while the rest is fetched. */
  readonly count: number;
}
/** The shared desk at which somebody is signed on. */
export interface SignedOnAt {
  readonly desk: string;
  /** Until when its phone starts again for them and rings nothing, ISO 8601; null: it is there. */
  readonly startsUntil: string | null;
}

interface Named {
  readonly id: string;
  readonly name: string;
}

export interface PersonPage {
  readonly person: Person;
  readonly version: number;
  readonly slice: Estate;
  readonly behind: readonly Behind[];
  /** Who of the slice is signed on at a shared desk now, by the person’s id. */
  readonly signedOn: Readonly<Record<string, SignedOnAt>>;
}

export interface NamedPerson {
  readonly id: string;
  readonly name: string;
  readonly extension: string;
  readonly why: string;
}

/** What a slate changed, told as one. */
export interface FoldedSlate {
  readonly name: string;
  readonly changes: number;
  /** The first of what it changed. */
  readonly names: readonly string[];
}

export interface RecordLine {
  readonly id: number;
  readonly at: string;
  readonly who: string;
  readonly kind: string;
  readonly personId: string | null;
  readonly subject: string;
  readonly detail: string;
  readonly why?: string;
  readonly slateId?: number | null;
  /** Where this entry stands for all that a slate changed. */
  readonly slate?: FoldedSlate;
  readonly canTakeBack?: boolean;
  readonly changes: readonly ToldChange[];
}

export interface Today {
  readonly organisation: string;
  readonly timeZone: string;
  readonly people: number;
  readonly counts: Readonly<Record<ReachState, number>>;
  readonly lost: readonly NamedPerson[];
  readonly atRisk: readonly NamedPerson[];
  readonly forwarded: readonly Omit<NamedPerson, 'why'>[];
  readonly record: readonly RecordLine[];
}

/** What is proposed for somebody new, and what there is to choose from. */
export interface NewPersonPage {
  /** The next free one; null: none is left. */
  readonly extension: string | null;
  readonly statuses: readonly { readonly id: string; readonly name: string }[];
  readonly permissions: readonly { readonly id: string; readonly name: string }[];
  readonly templates: readonly { readonly id: string; readonly name: string }[];
  readonly dialling: Dialling;
}
export interface AddedPerson {
  readonly id: string;
}

/** A phone that was given to somebody, and the telephone that it is, if one was named. */
export interface AddedPhone {
  readonly endpoint: string;
  readonly device: string | null;
}

/** A phone that was taken from somebody, and what of the record is undone to bring it back. */
export interface RemovedPhone {
  readonly endpoint: string;
  readonly label: string;
  readonly kind: EndpointKind;
  readonly at: string;
  readonly who: string;
  readonly entries: readonly number[];
}
