import type { MessagesWaiting } from '../core/wire/sip';
import type { Endpoint, Plan, Status, Schedule } from '../core/estate';
import type { OwnLimits } from '../core/changes/own';
import type { Judgement, Strip } from '../core/calls/views';

export interface OwnRequest {
  readonly id: number;
  readonly person: string;
  readonly says: string;
  readonly note: string;
  readonly state: 'open' | 'granted' | 'declined' | 'taken-back';
  readonly madeAt: string;
  readonly answeredBy: string | null;
  readonly answer: string;
}

export interface OwnPage {
  readonly person: {
    readonly id: string;
    readonly name: string;
    readonly status: string;
    readonly extension: string | null;
    readonly numbers: readonly string[];
    readonly endpoints: readonly Endpoint[];
    readonly plan: Plan;
  };
  readonly organisation: string;
  readonly timeZone: string;
  readonly statuses: readonly Status[];
  readonly schedules: readonly Pick<Schedule, 'id' | 'name'>[];
  readonly colleagues: readonly { readonly id: string; readonly name: string }[];
  readonly limits: OwnLimits;
  readonly cover: { readonly to: string; readonly until: string | null } | null;
  readonly note: {
    readonly note: string;
    readonly at: string | null;
    readonly notedAt: string;
    readonly staleAt: string | null;
  } | null;
  readonly pinSetAt: string | null;
  /** Messages in one’s mailbox, and the code that plays them; null: there is none. */
  readonly messages: MessagesWaiting & { readonly code: string | null };
  readonly checks: readonly { readonly endpoint: string; readonly item: string; readonly doneAt: string }[];
  /** The phone from which calls are placed with the status as it is. */
  readonly callsFrom: string | null;
  readonly reach: Judgement;
  readonly strip: Strip | null;
  readonly requests: readonly OwnRequest[];
}
