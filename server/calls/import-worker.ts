import { createHash } from 'node:crypto';
import { Readable } from 'node:stream';
import Papa from 'papaparse';
import type { Dialling } from '../../core/estate';
import {
  jsonPieces,
  readRecords,
  type Piece,
  type CallRecord,
  callColumnsFault,
  callReader,
  guessOrder,
  isEitherOrder,
  matchCallColumns,
  type CallChoices,
  type CallReader,
  type RowFault,
} from '../../core/records';
import type { ImportFound } from '../../api/call-imports';
import type { FromImport, ImportTask, ToImport } from './import-messages';

/** A file of calls, read in a process beside the server: its bytes come part by part, its calls go a thousand at a time. */
const CALLS_AT_ONCE = 1000;
const MOST_COLUMNS = 200;
const MOST_FAULTS = 200;
const SAMPLE = 12;
const GUESS_BY = 300;

const tell = (message: FromImport): void => {
  // Whoever asked may be gone: then there is nobody to tell.
  if (process.connected) process.send?.(message, undefined, {}, () => undefined);
};
const answers: ((message: ToImport) => void)[] = [];
process.on('message', (message: ToImport) => answers.shift()?.(message));
process.on('disconnect', () => process.exit(0));
const ask = (message: FromImport): Promise<ToImport> =>
  new Promise((answered) => {
    answers.push(answered);
    tell(message);
  });

const hashOf = (text: string): string => createHash('sha256').update(text).digest('base64url').slice(0, 20);

/** The file as text, in UTF-8 or, where that it cannot be, in Latin-1; the first part decides. */
async function* textOf(): AsyncGenerator<string> {
  let decoder: TextDecoder | null = null;
  for (;;) {
    const message = await ask({ kind: 'more' });
    if (message.kind !== 'part') return;
    if (message.bytes === null) break;
    if (!decoder) {
      let isUtf8 = true;
      try {
        new TextDecoder('utf-8', { fatal: true }).decode(message.bytes, { stream: true });
      } catch {
        isUtf8 = false;
      }
      decoder = new TextDecoder(isUtf8 ? 'utf-8' : 'latin1');
    }
    yield decoder.decode(message.bytes, { stream: true });
  }
  if (decoder) yield decoder.decode();
}

/** What is found while a file is gone through, and the calls that are handed on. */
function collecting({ skip, isTaking, keptFromMs }: ImportTask) {
  const faults: RowFault[] = [];
  const sample: CallRecord[] = [];
  let [count, faultCount, rows, tooOld] = [0, 0, 0, 0];
  let [least, most] = [Infinity, -Infinity];
  let waiting: CallRecord[] = [];
  return {
    onCall: (record: CallRecord) => {
      if (record.startMs < keptFromMs) {
        tooOld += 1;
        return;
      }
      count += 1;
      if (sample.length < SAMPLE) sample.push(record);
      least = Math.min(least, record.startMs);
      most = Math.max(most, record.startMs);
      if (isTaking && count > skip) waiting.push(record);
    },
    onFault: (fault: RowFault) => {
      faultCount += 1;
      if (faults.length < MOST_FAULTS) faults.push(fault);
    },
    /** Hands on what waits, and waits until it is written. @returns whether to go on */
    handOn: async (rowsNow: number, isLast: boolean): Promise<boolean> => {
      rows = rowsNow;
      while (waiting.length >= CALLS_AT_ONCE || (isLast && waiting.length > 0)) {
        const records = waiting.slice(0, CALLS_AT_ONCE);
        waiting = waiting.slice(CALLS_AT_ONCE);
        const answer = await ask({ kind: 'calls', records, rows, calls: count - waiting.length });
        if (answer.kind === 'stop') return false;
      }
      return true;
    },
    found: () => ({
      faults,
      faultCount,
      sample,
      rows,
      calls: count,
      tooOld,
      span: count > 0 ? ([least, most] as const) : null,
    }),
  };
}
type Collecting = ReturnType<typeof collecting>;

const phonesOf = (task: ImportTask) => {
  const phones = new Map(task.phones);
  return (text: string): string => {
    const given = text.trim();
    return phones.get(given) ?? phones.get(given.replace(/[\s().-]/g, '')) ?? given.slice(0, 200);
  };
};

interface Guessed {
  readonly choices: CallChoices;
  readonly isUnsure: boolean;
}
/** What columns mean and in which order dates stand, where it was not said. */
function guess(task: ImportTask, headings: readonly string[], rows: readonly (readonly string[])[]): Guessed {
  const { choices: given, timeZone } = task;
  const columns = given?.columns ?? matchCallColumns(headings);
  const at = columns.start ?? columns.date;
  const dates = at === undefined ? [] : rows.map((row) => row[at] ?? '');
  const isByLeg = given?.isByLeg ?? columns.leg !== undefined;
  return {
    choices: {
      columns,
      dates: given?.dates ?? guessOrder(dates) ?? 'iso',
      timeZone: given?.timeZone ?? timeZone,
      isByLeg,
      joinWithinS: given?.joinWithinS ?? 3,
      words: given?.words ?? {},
    },
    isUnsure: given?.dates === undefined && isEitherOrder(dates),
  };
}

async function readTable(task: ImportTask, collected: Collecting): Promise<ImportFound> {
  const phoneOf = phonesOf(task);
  let headings: string[] | null = null;
  let guessed: Guessed | null = null;
  let reader: CallReader | null = null;
  let before: { cells: string[]; line: number }[] = [];
  let [line, rows, goesOn] = [1, 0, true];
  const failed = (why: string): ImportFound => ({
    ...collected.found(),
    headings: headings ?? [],
    choices: guessed?.choices ?? null,
    isUnsure: false,
    words: [],
    twice: 0,
    why,
  });
  const open = (): string | null => {
    guessed = guess(
      task,
      headings ?? [],
      before.map(({ cells }) => cells),
    );
    const fault = callColumnsFault(guessed.choices.columns, guessed.choices.isByLeg);
    if (fault) return fault;
    const { onCall, onFault } = collected;
    reader = callReader({
      choices: guessed.choices,
      dialling: task.dialling as Dialling,
      phoneOf,
      hashOf,
      onCall,
      onFault,
    });
    for (const { cells, line: at } of before) reader.row(cells, at);
    before = [];
    return null;
  };
  const parsed = Readable.from(textOf(), { objectMode: false, encoding: 'utf8' }).pipe(
    Papa.parse(Papa.NODE_STREAM_INPUT, { delimitersToGuess: [',', ';', '\t', '|'], skipEmptyLines: false }),
  );
  for await (const value of parsed) {
    const cells = value as string[];
    const own = line;
    line += 1 + cells.reduce((sum, cell) => sum + (cell.includes('\n') ? cell.split('\n').length - 1 : 0), 0);
    if (!headings) {
      if (cells.length > MOST_COLUMNS)
        return failed(`There are ${cells.length} columns; ${MOST_COLUMNS} is the most that is read.`);
      headings = cells.map((cell) => cell.replace(/^\uFEFF/, '').slice(0, 120));
      continue;
    }
    if (cells.every((cell) => cell.trim() === '')) continue;
    rows += 1;
    if (cells.length > MOST_COLUMNS || cells.some((cell) => cell.length > 4000)) {
      collected.onFault({ line: own, column: 0, message: 'has more columns, or longer ones, than are read' });
      continue;
    }
    if (reader) (reader as CallReader).row(cells, own);
    else if (before.push({ cells, line: own }) >= GUESS_BY) {
      const why = open();
      if (why) return failed(why);
    }
    if (rows % 500 === 0) {
      goesOn = await collected.handOn(rows, false);
      if (!goesOn) break;
      if (rows % 5000 === 0) tell({ kind: 'at', rows });
    }
  }
  if (!headings) return failed('There is nothing in this file.');
  if (!reader) {
    const why = open();
    if (why) return failed(why);
  }
  const last = reader as unknown as CallReader;
  if (goesOn) {
    last.end();
    await collected.handOn(rows, true);
  }
  const { choices, isUnsure } = guessed as unknown as Guessed;
  return {
    ...collected.found(),
    rows,
    headings,
    choices,
    isUnsure,
    words: last.words(),
    twice: last.read().twice,
    why: null,
  };
}

async function readLines(collected: Collecting): Promise<ImportFound> {
  let [rows, goesOn] = [0, true];
  const ids = new Set<string>();
  const pieces = jsonPieces();
  const one = (piece: Piece) => {
    const wrong = (message: string) => collected.onFault({ line: piece.line, column: 0, message });
    if ('fault' in piece) return wrong(piece.fault);
    const { text } = piece;
    if (text.trim() === '') return;
    rows += 1;
    let value: unknown;
    try {
      value = JSON.parse(text);
    } catch {
      return wrong('is no JSON');
    }
    const read = readRecords([value]);
    if (!read.ok)
      return wrong(
        read.faults.map(({ path, message }) => `${path.replace(/^\[0\]\.?/, '')} ${message}`).join('; '),
      );
    const [record] = read.records;
    if (!record) return;
    if (ids.has(record.id)) return wrong(`the id “${record.id.slice(0, 40)}” stands twice`);
    ids.add(record.id);
    collected.onCall({ ...record, source: 'import' });
  };
  for await (const text of textOf()) {
    pieces.push(text).forEach(one);
    goesOn = await collected.handOn(rows, false);
    if (!goesOn || pieces.isOver()) break;
    tell({ kind: 'at', rows });
  }
  if (goesOn) {
    pieces.end().forEach(one);
    await collected.handOn(rows, true);
  }
  return {
    ...collected.found(),
    rows,
    headings: [],
    choices: null,
    isUnsure: false,
    words: [],
    twice: 0,
    why: null,
  };
}

async function main(): Promise<void> {
  const begin = await new Promise<ToImport>((answered) => {
    answers.push(answered);
  });
  if (begin.kind !== 'task') return;
  const { task } = begin;
  const collected = collecting(task);
  const found = task.isLines ? await readLines(collected) : await readTable(task, collected);
  tell({ kind: 'done', found });
  process.disconnect();
}

main().catch((error: unknown) => {
  tell({ kind: 'failed', why: error instanceof Error ? error.message : String(error) });
  process.disconnect();
});
