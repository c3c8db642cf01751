import type { Estate, EstateOrFaults, Person } from '../../core/estate';
import type { PlacedFault, ReadCpl, RosterList, Table, TextEncoding } from '../../core/formats';
import type { ReadRoundList, RoundJudge } from '../../core/rounds';
import { workerPool } from '../base';

export type ReadText =
  | { readonly ok: true; readonly encoding: TextEncoding; readonly table: Table }
  | { readonly ok: false; readonly encoding?: TextEncoding; readonly faults: readonly PlacedFault[] };

export interface TableTask {
  readonly bytes: Uint8Array;
  readonly readAs: TextEncoding | undefined;
}
export interface ScriptTask {
  readonly script: string;
  readonly person: Person;
  readonly estate: Estate;
}
export interface EstateTask {
  readonly estateFile: Uint8Array;
}
export interface WavTask {
  readonly wav: Uint8Array;
}
/** Sound as a telephone line carries it. */
export type ReadSound =
  | { readonly ok: true; readonly muLaw: Uint8Array; readonly ms: number }
  | { readonly ok: false; readonly why: string };
export interface RoundListTask {
  readonly list: Uint8Array;
  readonly judge: RoundJudge;
}
export interface RosterTask {
  readonly rosters: Uint8Array;
  readonly estate: Estate;
  readonly today: string;
}
export type ReadingTask = TableTask | ScriptTask | EstateTask | WavTask | RoundListTask | RosterTask;

const pool = workerPool<
  ReadingTask,
  ReadText | ReadCpl | EstateOrFaults | ReadSound | ReadRoundList | RosterList
>('server/reading/worker.ts');

/** A table with its headings, from the bytes of a file. */
export const readTableInPool = (bytes: Uint8Array, readAs?: TextEncoding): Promise<ReadText> =>
  pool.run({ bytes, readAs }) as Promise<ReadText>;

/** What a script looks up of an organisation: who and what is called how, without their plans. */
const directoryOf = (estate: Estate, person: Person): Estate => ({
  ...estate,
  people: estate.people.map((each) => (each.id === person.id ? each : { ...each, plan: NO_PLAN })),
});
const NO_PLAN: Person['plan'] = { rules: [], otherwise: { stages: [], ending: { kind: 'mailbox' } } };

export const readScriptInPool = (script: string, person: Person, estate: Estate): Promise<ReadCpl> =>
  pool.run({ script, person, estate: directoryOf(estate, person) }) as Promise<ReadCpl>;

/** An estate file, from its bytes. */
export const readEstateInPool = (bytes: Uint8Array): Promise<EstateOrFaults> =>
  pool.run({ estateFile: bytes }) as Promise<EstateOrFaults>;

/** A recording, from the bytes of a WAV file. */
export const readWavInPool = (wav: Uint8Array): Promise<ReadSound> => pool.run({ wav }) as Promise<ReadSound>;

/** A list of numbers to call, from the bytes of a file. */
export const readRoundListInPool = (list: Uint8Array, judge: RoundJudge): Promise<ReadRoundList> =>
  pool.run({ list, judge }) as Promise<ReadRoundList>;

/** Rosters, from the bytes of a table or an iCalendar object. @param today "YYYY-MM-DD", from which recurrences count */
export const readRostersInPool = (rosters: Uint8Array, estate: Estate, today: string): Promise<RosterList> =>
  pool.run({ rosters, estate, today }) as Promise<RosterList>;
