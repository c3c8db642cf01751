import { writeCsv } from '../formats';
import type { ListRow, NumberState } from './types';

const SAID: Readonly<Record<NumberState, string>> = {
  waiting: 'waiting',
  'not-allowed-now': 'outside the hours',
  calling: 'calling',
  heard: 'heard',
  'voicemail-left': 'voicemail left',
  busy: 'busy',
  'no-answer': 'no answer',
  refused: 'refused',
  'bad-number': 'bad number',
  'never-call': 'never call',
  unknown: 'not known',
};
export const sayNumberState = (state: NumberState): string => SAID[state];

/** A number of a round, for its report. */
export interface ReportRow extends Omit<ListRow, 'state'> {
  readonly state: NumberState;
  readonly tries: number;
  /** ISO 8601, of the last call; null: it was not called. */
  readonly calledAt: string | null;
  /** How much of the recording was played, in s. */
  readonly playedS: number | null;
}

/** The report of a round as CSV (RFC 4180): a line for each row of the list, with all its columns. */
export function roundReport(rows: readonly ReportRow[]): string {
  const own = ['line', 'number', 'name', 'zone', 'result', 'why', 'tries', 'last called', 'seconds played'];
  const more = [...new Set(rows.flatMap(({ fields }) => Object.keys(fields)))];
  return writeCsv(
    [...own, ...more.map((heading) => (own.includes(heading) ? `list: ${heading}` : heading))],
    rows.map((row) => [
      String(row.line),
      row.number ?? row.shown,
      row.name,
      row.zone ?? '',
      SAID[row.state],
      row.why,
      String(row.tries),
      row.calledAt ?? '',
      row.playedS === null ? '' : String(row.playedS),
      ...more.map((heading) => row.fields[heading] ?? ''),
    ]),
  );
}
