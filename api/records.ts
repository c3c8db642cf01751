import type { CarrierSeen, Gain, Pattern, ProposedTimes, RecordsEffect, TrunkTraffic } from '../core/records';

/** Work over many calls, beside the server: how far it is, and what came of it. */
export interface LongWork<T> {
  readonly state: 'running' | 'done' | 'failed';
  /** Calls gone through, of how many. */
  readonly done: number;
  readonly total: number;
  readonly result: T | null;
  /** Why it failed, in words. */
  readonly why: string | null;
}

/** Whose phones and which hours are asked about. */
export interface TimesAsked {
  readonly days: number;
  readonly person?: string;
  readonly group?: string;
  /** A kind of phone. */
  readonly phone?: string;
  /** Hours of the day, by the organisation’s clock: from, and up to, 0 to 24. */
  readonly fromHour?: number;
  readonly toHour?: number;
}
/** How soon phones are answered. */
export interface TimesPage {
  readonly n: number;
  readonly answered: number;
  /** Steps of the curve: few enough to be drawn. */
  readonly curve: readonly {
    readonly atMs: number;
    readonly atRisk: number;
    readonly share: number;
    readonly low: number | null;
    readonly high: number | null;
  }[];
  /** What ringing five seconds longer brings, from each time on. */
  readonly gains: readonly (Gain & {
    readonly fromMs: number;
    readonly toMs: number;
    readonly share0: number;
  })[];
  /** The shortest ring that reaches a share; null: none does. */
  readonly shares: readonly { readonly share: number; readonly atMs: number | null }[];
  /** Fewer answers than it takes to go by. */
  readonly isFew: boolean;
}

/** One carrier, with what is set at the phones that it carries. */
export interface CarrierRow extends CarrierSeen {
  readonly phones: number;
  /** Phones for which something else is set or taken than was measured. */
  readonly differ: number;
  /** What would be set at them. */
  readonly proposed: ProposedTimes;
}
export interface CarriersPage {
  readonly carriers: readonly CarrierRow[];
}

export interface TrafficPage {
  readonly trunks: readonly (TrunkTraffic & { readonly name: string })[];
  /** What a slate would add at the busiest hour of each day, by trunk; null: none was asked about. */
  readonly slate: readonly { readonly trunk: string; readonly added: readonly number[] }[] | null;
}

export interface LostPage {
  readonly weeks: readonly {
    /** Its Monday. */
    readonly from: string;
    readonly calls: number;
    readonly lost: number;
    readonly low: number;
    readonly high: number;
  }[];
  readonly kinds: readonly { readonly outcome: string; readonly calls: number }[];
  readonly people: readonly {
    readonly to: string;
    readonly name: string;
    readonly person: string | null;
    readonly calls: number;
    readonly lost: number;
  }[];
  readonly hours: readonly { readonly hour: number; readonly calls: number; readonly lost: number }[];
  /** By the rule that the plan of then had for them; days that were not looked through yet are left out. */
  readonly rules: readonly (RuleCalls & { readonly name: string })[];
  readonly daysLooked: number;
}

/** Calls that a rule had, and those of them that were lost. */
export interface RuleCalls {
  readonly person: string;
  /** null: the default rule. */
  readonly rule: string | null;
  /** What the rule was called. */
  readonly ruleName: string;
  readonly calls: number;
  readonly lost: number;
}

export interface CostPage {
  readonly currency: string;
  /** Hundred-thousandths, as all money here. */
  readonly total: number;
  readonly numbers: readonly {
    readonly number: string;
    readonly name: string;
    readonly legs: number;
    readonly seconds: number;
    readonly total: number;
  }[];
  readonly people: readonly {
    readonly person: string;
    readonly name: string;
    readonly legs: number;
    readonly total: number;
  }[];
  readonly unpriced: readonly string[];
  readonly days: number;
}
export interface TariffRow {
  readonly id: number;
  readonly name: string;
  readonly currency: string;
  readonly lines: number;
  readonly who: string;
  readonly at: string;
}

export interface SlateCallsPage extends RecordsEffect {
  /** By who was called, in words; with a person’s page where there is one. */
  readonly names: Readonly<Record<string, { readonly name: string; readonly person: string | null }>>;
  readonly says: Readonly<Record<string, { readonly before: string; readonly after: string }>>;
  readonly tookMs: number;
}

/** What one night’s look found. */
export interface NightRow {
  readonly day: string;
  readonly calls: number;
  readonly planned: number;
  readonly otherwise: number;
  readonly unsure: number;
  readonly patterns: readonly Pattern[];
  readonly reasons: readonly { readonly says: string; readonly calls: number }[];
  /** What the calls of the last weeks say that somebody should see: only of the latest day. */
  readonly signs?: readonly { readonly says: string; readonly href: string }[];
  /** By the last rule that had each call, those with the most lost first; left out: from before that was noted. */
  readonly rules?: readonly RuleCalls[];
}
export interface NightsPage {
  readonly nights: readonly NightRow[];
}

/** A part of the week’s letter: a heading with sentences below it, each leading to its page where there is one. */
export interface LetterPart {
  readonly title: string;
  readonly lines: readonly { readonly says: string; readonly href: string | null }[];
}
/** What was lost and why, what changed, what is owed. */
export interface LetterPage {
  readonly organisation: string;
  /** "YYYY-MM-DD": its Monday, and its Sunday. */
  readonly from: string;
  readonly to: string;
  /** Whether the week is over. */
  readonly isWhole: boolean;
  readonly parts: readonly LetterPart[];
}
