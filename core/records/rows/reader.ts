import { bareNumber, readNumber } from '../../calls/dialling';
import type { LegEnd, OutcomeKind } from '../../calls/engine';
import type { Dialling, Ms } from '../../estate';
import type { CallRecord, RecordedLeg } from '../types';
import { legEndOfWord, outcomeOfWord, wordKey, type CallColumns, type CallField } from './fields';
import { readLength, readMoment, type DateOrder } from './moments';

/** How a file of calls is read. */
export interface CallChoices {
  readonly columns: CallColumns;
  readonly dates: DateOrder;
  readonly timeZone: string;
  /** One row a call, or one a phone that rang. */
  readonly isByLeg: boolean;
  /** Rows without a call’s id belong to one call if they begin so close together, s. */
  readonly joinWithinS: number;
  /** What words of the file mean, by `wordKey`. */
  readonly words: Readonly<Record<string, string>>;
}

export interface RowFault {
  readonly line: number;
  /** From 1; 0: the row as a whole. */
  readonly column: number;
  readonly message: string;
}

export interface RowsRead {
  readonly rows: number;
  readonly calls: number;
  /** Rows left out, whatever was wrong with them. */
  readonly leftOut: number;
  /** Moments that the clock showed twice. */
  readonly twice: number;
}

/** Reads calls row by row. */
export interface CallReader {
  readonly row: (cells: readonly string[], line: number) => void;
  /** The last calls, whose rows might have gone on. */
  readonly end: () => void;
  readonly read: () => RowsRead;
  /** Words that say how calls ended, how often, and what they are taken to mean; null: it is not known. */
  readonly words: () => readonly {
    readonly word: string;
    readonly key: string;
    readonly count: number;
    readonly means: string | null;
  }[];
}

export interface CallReaderOptions {
  readonly choices: CallChoices;
  readonly dialling: Dialling;
  /** The phone, by its id, that a text of the file stands for; the text itself where there is none. */
  readonly phoneOf: (text: string) => string;
  /** A short text that stands for a long one: another one for another text. */
  readonly hashOf: (text: string) => string;
  readonly onCall: (record: CallRecord) => void;
  readonly onFault: (fault: RowFault) => void;
}

/** So many rows may lie between the first and the last row of one call. */
export const JOIN_ROWS = 20_000;
const MOST_WORDS = 200;
const WITHHELD = new Set([
  '',
  'anonymous',
  'withheld',
  'private',
  'unknown',
  'restricted',
  'unavailable',
  '-',
]);

/** Thrown at what is wrong with a row, and caught where the row is read. */
class Wrong extends Error {
  constructor(
    readonly field: CallField,
    message: string,
  ) {
    super(message);
  }
}

interface Row {
  readonly line: number;
  readonly hash: string;
  readonly startMs: number;
  readonly from: string | null;
  readonly to: string;
  readonly outcome: OutcomeKind | null;
  readonly answeredBy: string | null;
  readonly waitMs: Ms | null;
  readonly talkMs: Ms | null;
  readonly totalMs: Ms | null;
  readonly leg: {
    readonly endpoint: string;
    readonly startMs: number;
    readonly ringMs: Ms | null;
    readonly end: LegEnd | null;
  } | null;
  readonly trunk: string | null;
  readonly trunkIn: string | null;
  readonly system: string | null;
}

export function callReader({
  choices,
  dialling,
  phoneOf,
  hashOf,
  onCall,
  onFault,
}: CallReaderOptions): CallReader {
  const { columns, dates, timeZone, isByLeg, joinWithinS, words } = choices;
  const counted = new Map<string, { word: string; count: number; means: string | null }>();
  const seen = new Map<string, number>();
  const open = new Map<string, { rows: Row[]; since: number }>();
  const closed = new Set<string>();
  const numbers = new Map<string, string | null>();
  let [rows, calls, leftOut, twice] = [0, 0, 0, 0];

  /** A number as records have it: E.164 where it can be read, else its digits. */
  function numberOf(text: string, field: 'from' | 'to'): string | null {
    const given = text.trim();
    const known = numbers.get(given);
    if (known !== undefined) return known;
    if (WITHHELD.has(given.toLowerCase())) return null;
    const bare = bareNumber(given);
    if (!/^\+?\d{1,20}$/.test(bare)) throw new Wrong(field, `“${given.slice(0, 40)}” is no number`);
    const isShort = !bare.startsWith('+') && bare.length <= dialling.extensionDigits;
    const read = isShort ? null : readNumber(given, dialling);
    const value = read?.ok ? read.e164 : bare;
    if (numbers.size < 200_000) numbers.set(given, value);
    return value;
  }

  function readRow(cells: readonly string[], line: number): Row {
    const cell = (field: CallField): string => {
      const at = columns[field];
      return at === undefined ? '' : (cells[at] ?? '');
    };
    const length = (field: CallField): Ms | null => {
      if (cell(field).trim() === '') return null;
      const read = readLength(cell(field));
      if (!read.ok) throw new Wrong(field, `“${cell(field).slice(0, 40)}” ${read.why}`);
      return read.ms;
    };
    const moment = (field: CallField, text: string): number => {
      const read = readMoment(text, dates, timeZone);
      if (!read.ok) throw new Wrong(field, `“${text.slice(0, 40)}” ${read.why}`);
      if (read.isTwice) twice += 1;
      return read.ms;
    };
    const startMs =
      columns.start !== undefined
        ? moment('start', cell('start'))
        : moment('date', `${cell('date').trim()} ${cell('time').trim()}`.trim());
    const to = numberOf(cell('to'), 'to');
    if (to === null) throw new Wrong('to', 'what was called is missing');
    const [waitMs, talkMs, totalMs] = [length('wait'), length('talk'), length('duration')];
    const word = cell('outcome').trim();
    const outcome = word === '' ? null : outcomeOfWord(word, (talkMs ?? 0) > 0, words);
    if (word !== '') {
      const key = wordKey(word);
      const count = counted.get(key);
      if (count) count.count += 1;
      else if (counted.size < MOST_WORDS) counted.set(key, { word, count: 1, means: outcome });
      if (outcome === null)
        throw new Wrong(
          'outcome',
          `“${word.slice(0, 40)}” is no way to end that is known: say what it means`,
        );
    }
    const by = cell('answeredBy').trim();
    const phone = cell('leg').trim();
    // A call in which no phone rang has a row with nothing of a phone in it.
    const isBare =
      phone === '' && (['legStart', 'ring', 'legEnd'] as const).every((each) => cell(each).trim() === '');
    if (isByLeg && phone === '' && !isBare) throw new Wrong('leg', 'which phone rang is missing');
    const legWord = cell('legEnd').trim();
    const legEnd = legWord === '' ? null : legEndOfWord(legWord);
    if (legWord !== '' && legEnd === null)
      throw new Wrong('legEnd', `“${legWord.slice(0, 40)}” is no way to end that is known`);
    const text = (field: CallField) => cell(field).trim().slice(0, 200) || null;
    const whole = cells.join('\u001f');
    return {
      line,
      hash: hashOf(whole),
      startMs,
      from: numberOf(cell('from'), 'from'),
      to,
      outcome,
      answeredBy: by === '' ? null : phoneOf(by),
      waitMs,
      talkMs,
      totalMs,
      leg:
        isByLeg && !isBare
          ? {
              endpoint: phoneOf(phone),
              startMs: cell('legStart').trim() === '' ? startMs : moment('legStart', cell('legStart')),
              ringMs: length('ring'),
              end: legEnd,
            }
          : null,
      trunk: text('trunk'),
      trunkIn: text('trunkIn'),
      system: text('system'),
    };
  }

  /** The nth equal row stands for the nth call: its id says so, so that none comes in twice. */
  function idOf(own: readonly Row[]): string {
    const first = own[0]!;
    const hash = own.length === 1 ? first.hash : hashOf(own.map((row) => row.hash).join());
    const nth = (seen.get(hash) ?? 0) + 1;
    seen.set(hash, nth);
    return `i${hash}-${nth}`;
  }

  function tell(own: readonly Row[]): void {
    calls += 1;
    const ofPhones = own.filter(({ leg }) => leg !== null);
    onCall(ofPhones.length > 0 ? callOfLegs(ofPhones, idOf(own)) : callOfRow(own[0]!, idOf(own)));
  }

  function closeOld(): void {
    for (const [key, { rows: own, since }] of open) {
      if (rows - since < JOIN_ROWS) return;
      open.delete(key);
      closed.add(hashOf(key));
      tell(own);
    }
  }

  /** The rows that a row belongs to, by its call’s id, or by who called whom when. */
  function joined(row: Row, id: string): void {
    const base = id === '' ? `${row.from ?? ''}>${row.to}` : `#${id}`;
    const known = open.get(base);
    const isOne =
      known && (id !== '' || Math.abs(known.rows[0]!.startMs - row.startMs) <= joinWithinS * 1000);
    if (isOne) {
      known.rows.push(row);
      return;
    }
    if (known) {
      // The same two spoke again.
      open.delete(base);
      tell(known.rows);
    } else if (id !== '' && closed.has(hashOf(base)))
      throw new Wrong(
        'id',
        `more than ${JOIN_ROWS.toLocaleString('en')} rows lie between the rows of this call`,
      );
    open.set(base, { rows: [row], since: rows });
  }

  return {
    row: (cells, line) => {
      rows += 1;
      try {
        const row = readRow(cells, line);
        if (isByLeg) joined(row, columns.id === undefined ? '' : (cells[columns.id] ?? '').trim());
        else tell([row]);
      } catch (error) {
        if (!(error instanceof Wrong)) throw error;
        leftOut += 1;
        onFault({ line, column: (columns[error.field] ?? -1) + 1, message: error.message });
      }
      if (rows % 1000 === 0) closeOld();
    },
    end: () => {
      for (const { rows: own } of open.values()) tell(own);
      open.clear();
    },
    read: () => ({ rows, calls, leftOut, twice }),
    words: () => [...counted].map(([key, value]) => ({ key, ...value })).sort((a, b) => b.count - a.count),
  };
}

const DAY_MS = 86_400_000;
const bounded = (ms: number): Ms => Math.min(DAY_MS, Math.max(0, Math.round(ms)));
const common = ({ startMs, from, to, system, trunkIn }: Row) => ({
  startMs,
  from,
  to,
  source: 'import' as const,
  ...(system === null ? {} : { system }),
  ...(trunkIn === null ? {} : { trunkIn }),
});

function callOfRow(row: Row, id: string): CallRecord {
  const { waitMs, talkMs, totalMs, answeredBy } = row;
  const outcome = row.outcome ?? ((talkMs ?? 0) > 0 ? 'answered' : 'unanswered');
  const talked =
    talkMs ?? (totalMs !== null && waitMs !== null && outcome === 'answered' ? totalMs - waitMs : 0);
  return {
    id,
    ...common(row),
    outcome,
    atMs: bounded(waitMs ?? (totalMs === null ? 0 : totalMs - talked)),
    talkMs: bounded(talked),
    ...(answeredBy === null ? {} : { answeredBy }),
    legs: [],
  };
}

function callOfLegs(rows: readonly Row[], id: string): CallRecord {
  const startMs = Math.min(...rows.map((row) => Math.min(row.startMs, row.leg!.startMs)));
  const isAnswered = rows.some(({ leg }) => leg!.end === 'connected');
  const legs = rows
    .map(({ leg, trunk, talkMs }): RecordedLeg & { readonly talkMs: Ms } => {
      const dialledMs = bounded(leg!.startMs - startMs);
      const rang = leg!.ringMs;
      const end =
        leg!.end ?? ((talkMs ?? 0) > 0 ? 'connected' : isAnswered ? 'answered-elsewhere' : 'no-answer');
      const endMs = bounded(dialledMs + (rang ?? 0));
      return {
        endpoint: leg!.endpoint,
        dialledMs,
        // How long setting up took is not told apart: it rings from the dialling on.
        alertMs: rang === null ? null : dialledMs,
        endMs,
        end,
        ...(end === 'connected' ? { answerMs: endMs } : {}),
        ...(trunk === null ? {} : { trunk }),
        talkMs: talkMs ?? 0,
      };
    })
    .sort((a, b) => a.dialledMs - b.dialledMs);
  const connected = legs.find(({ end }) => end === 'connected');
  const told = rows.find(({ outcome }) => outcome !== null)?.outcome;
  return {
    id,
    ...common(rows[0]!),
    startMs,
    outcome: told ?? (connected ? 'answered' : 'unanswered'),
    atMs: connected?.endMs ?? Math.max(...legs.map(({ endMs }) => endMs)),
    talkMs: bounded(connected?.talkMs ?? 0),
    ...(connected ? { answeredBy: connected.endpoint } : {}),
    legs: legs.map(({ talkMs: _talkMs, ...leg }) => leg),
  };
}
