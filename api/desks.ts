import type { DeskStanding } from '../core/desks';

/** What is tried at the phone of a shared desk: a code dialled there, or a caller from outside who leaves a message. */
export const DESK_TRIES = ['sign-on', 'messages', 'leave-message'] as const;
export type DeskTry = (typeof DESK_TRIES)[number];

/** A half hour of a week at a site: how many come, and the chance that somebody finds no desk. */
export interface DeskHalfHour {
  readonly fromMs: number;
  readonly expected: number;
  readonly chance: number;
}

/** Whether a site has enough shared desks in a week. */
export interface EnoughPage {
  readonly site: string;
  readonly timeZone: string;
  readonly desks: number;
  /** Of them, those that are for everybody who is sent there. */
  readonly forAll: number;
  readonly needed: number;
  readonly halfHours: readonly DeskHalfHour[];
  /** What the site promises, checked for these weeks whichever week is shown. */
  readonly promises: readonly {
    readonly says: string;
    readonly standing: DeskStanding;
    /** What it needs and what there is, in words. */
    readonly needs: string;
    /** The worst half hour; null: nobody is sent there then. */
    readonly worst: DeskHalfHour | null;
    /** Up to when it was checked, ms since 1970. */
    readonly untilMs: number;
  }[];
  /** Whom no desk there allows although the roster sends them. */
  readonly without: readonly { readonly id: string; readonly name: string }[];
}

/** What another roster would come to, the best first. */
export interface SavingsPage {
  readonly savings: readonly {
    readonly shift: string;
    /** The shift as much later, below 0 earlier; null: it stays. */
    readonly byMinutes: number | null;
    /** How much less likely each of its people comes; null: as likely as now. */
    readonly less: number | null;
    readonly needed: number;
    readonly worst: number;
  }[];
}

/** A place on the plan of an area, from 1 at the upper left. */
export interface DeskSpot {
  readonly column: number;
  readonly row: number;
}
/** Somebody at a shared desk, now or then. Times ISO 8601. */
export interface DeskSitting {
  readonly person: string;
  readonly name: string;
  readonly since: string;
  /** How they signed on, in words. */
  readonly how: string;
  /** When it ended; null: it has not. */
  readonly ended: string | null;
  /** Why it ended, in words. */
  readonly why: string | null;
}
/** A shared desk at a moment. */
export interface DeskPlace {
  readonly id: string;
  readonly name: string;
  readonly site: string | null;
  readonly siteName: string;
  readonly area: string | null;
  /** null: on the next free place. */
  readonly spot: DeskSpot | null;
  /** null: nobody sits there. */
  readonly sitting: DeskSitting | null;
  /** When whoever sits there is signed off by itself; null: never, or the moment is past. */
  readonly until: string | null;
}
/** Who sits where at a moment: as it is or was by the record, or of one to come who is rostered. */
export interface SittingPage {
  readonly at: string;
  readonly when: 'now' | 'past' | 'to-come';
  readonly desks: readonly DeskPlace[];
  /** Shifts that were on then, by site: how many are expected, and how many of those are or were at a desk there. */
  readonly shifts: readonly {
    readonly site: string;
    readonly name: string;
    readonly expected: number;
    readonly here: number;
  }[];
  /** Of a moment to come: who is rostered at each site, with how likely they come. */
  readonly rostered: readonly {
    readonly site: string;
    readonly name: string;
    readonly people: readonly { readonly id: string; readonly name: string; readonly share: number }[];
  }[];
}
/** A desk by itself: who was there in the last days, and what opens it today. */
export interface DeskPage {
  readonly desk: DeskPlace;
  readonly fromMs: number;
  readonly toMs: number;
  readonly timeZone: string;
  readonly sittings: readonly DeskSitting[];
  /** Where a code is asked for beside the PIN: that of today, for those who may hand it out. */
  readonly code: string | null;
}
/** Where somebody is signed on, and was in the last days. */
export interface PersonDesk {
  /** Whether one of their phones is whichever shared desk they sign on to. */
  readonly hasHotDesk: boolean;
  readonly now: {
    readonly desk: string;
    readonly name: string;
    readonly siteName: string;
    readonly since: string;
    readonly until: string | null;
  } | null;
  readonly before: readonly {
    readonly desk: string;
    readonly name: string;
    readonly since: string;
    readonly ended: string;
    readonly why: string;
  }[];
  readonly badgeSetAt: string | null;
}
/** A desk as the plan of one's own page draws it. */
export interface OwnPlanDesk {
  readonly id: string;
  readonly name: string;
  readonly siteName: string;
  readonly area: string | null;
  readonly spot: DeskSpot | null;
  /** Which of all desks it is, so that every plan is drawn alike. */
  readonly nth: number;
}
/** A desk that one may sign on at. */
export interface OwnFreeDesk extends OwnPlanDesk {
  /** What is asked for beside being signed in here. */
  readonly asks: 'nothing' | 'pin' | 'code-and-pin';
  /** Who sits there, where it may be taken over. */
  readonly takenBy: string | null;
}
/** What somebody signs on with from their own page. */
export interface OwnDesks {
  readonly hasHotDesk: boolean;
  readonly now: PersonDesk['now'];
  readonly free: readonly OwnFreeDesk[];
  /** The other desks of those sites, for the plan: taken, or not for them. */
  readonly others: readonly (OwnPlanDesk & { readonly isMine: boolean })[];
}

/** What a list of rosters would change. */
export interface RosterPreview {
  /** Whose roster becomes another, the first of them. */
  readonly changed: readonly { readonly id: string; readonly name: string }[];
  readonly count: number;
  /** How many have it already. */
  readonly same: number;
  /** Hours that come with it. */
  readonly hours: readonly string[];
  /** With any of these nothing is taken over. */
  readonly faults: readonly { readonly line: number; readonly column: number; readonly message: string }[];
}

/** Colleagues at shared desks, of those who let it be seen. */
export interface Colleagues {
  /** Whether one has a shared desk that could be seen. */
  readonly mayShow: boolean;
  /** Whether colleagues see at which desk one is. */
  readonly isShown: boolean;
  readonly colleagues: readonly {
    readonly name: string;
    readonly desk: string;
    readonly siteName: string | null;
    readonly area: string | null;
    readonly since: string;
  }[];
}
