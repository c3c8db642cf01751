import type { LegEnd, OutcomeKind } from '../../calls/engine';

/** What a column of a file of calls can mean. */
export const CALL_FIELDS = [
  'id',
  'start',
  'date',
  'time',
  'from',
  'to',
  'outcome',
  'answeredBy',
  'wait',
  'talk',
  'duration',
  'leg',
  'legStart',
  'ring',
  'legEnd',
  'trunk',
  'trunkIn',
  'system',
] as const;
export type CallField = (typeof CALL_FIELDS)[number];
/** Which column, from 0, each is read from. */
export type CallColumns = Partial<Record<CallField, number>>;

export const CALL_FIELD_NAMES: Readonly<Record<CallField, string>> = {
  id: 'Call id',
  start: 'Began, date and time',
  date: 'Began, date',
  time: 'Began, time',
  from: 'From',
  to: 'To',
  outcome: 'How it ended',
  answeredBy: 'Who answered',
  wait: 'Time to the answer',
  talk: 'Time talked',
  duration: 'Whole time',
  leg: 'Phone that rang',
  legStart: 'Phone dialled at',
  ring: 'How long it rang',
  legEnd: 'How the phone’s ringing ended',
  trunk: 'Trunk out',
  trunkIn: 'Trunk in',
  system: 'Phone system',
};

const HEADINGS: Readonly<Record<CallField, readonly string[]>> = {
  id: [
    'id',
    'call id',
    'callid',
    'unique id',
    'uniqueid',
    'session',
    'session id',
    'correlation id',
    'linked id',
  ],
  start: [
    'start',
    'started',
    'start at',
    'start time',
    'begin',
    'began',
    'date time',
    'datetime',
    'timestamp',
    'call start',
    'setup time',
  ],
  date: ['date', 'day', 'call date', 'start date'],
  time: ['time', 'call time', 'clock', 'time of day'],
  from: [
    'from',
    'caller',
    'calling',
    'calling number',
    'caller number',
    'source',
    'src',
    'a number',
    'caller id',
    'origin',
  ],
  to: [
    'to',
    'called',
    'called number',
    'dialled',
    'dialed',
    'dialled number',
    'dialed number',
    'destination',
    'dst',
    'b number',
    'did',
  ],
  outcome: [
    'outcome',
    'result',
    'status',
    'disposition',
    'end',
    'how it ended',
    'cause',
    'call result',
    'release cause',
    'sip code',
  ],
  answeredBy: [
    'answered by',
    'answeredby',
    'answerer',
    'agent',
    'answered at',
    'connected number',
    'connected to',
  ],
  wait: [
    'wait',
    'waited',
    'wait time',
    'time to answer',
    'answer after',
    'ring time',
    'ringing time',
    'at ms',
  ],
  talk: ['talk', 'talked', 'talk time', 'billsec', 'bill seconds', 'conversation', 'talk s', 'billable'],
  duration: ['duration', 'length', 'total', 'total time', 'call duration', 'duration s'],
  leg: ['leg', 'phone', 'endpoint', 'device', 'leg destination', 'rang', 'channel', 'extension rung'],
  legStart: ['leg start', 'phone dialled', 'leg began', 'leg time', 'dialled at'],
  ring: ['ring', 'ringing', 'ring duration', 'rang for', 'ring s', 'alerting'],
  legEnd: ['leg end', 'leg result', 'leg outcome', 'leg status', 'phone result'],
  trunk: ['trunk', 'trunk out', 'outbound trunk', 'gateway', 'carrier'],
  trunkIn: ['trunk in', 'inbound trunk', 'source trunk'],
  system: ['system', 'phone system', 'server', 'node', 'host'],
};

const plain = (heading: string): string =>
  heading
    .trim()
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .toLowerCase()
    .replace(/[_\-()[\].:/]+/g, ' ')
    .replace(/\s+/g, ' ')
    .trim();

/** Matches columns by their headings. */
export function matchCallColumns(headings: readonly string[]): CallColumns {
  const names = headings.map(plain);
  const taken = new Set<number>();
  const columns: CallColumns = {};
  for (const field of CALL_FIELDS) {
    const at = names.findIndex((name, n) => !taken.has(n) && HEADINGS[field].includes(name));
    if (at < 0) continue;
    taken.add(at);
    columns[field] = at;
  }
  return columns;
}

/** Why columns so matched cannot be read, in words; null: they can. */
export function callColumnsFault(columns: CallColumns, isByLeg: boolean): string | null {
  if (columns.start === undefined && columns.date === undefined)
    return 'No column says when a call began: match one to the date, or to date and time.';
  if (columns.to === undefined) return 'No column says what was called.';
  if (isByLeg && columns.leg === undefined) return 'No column says which phone rang.';
  return null;
}

const letters = (word: string): string => word.toLowerCase().replace(/[^\p{L}\d]+/gu, '');
const WORDS: readonly (readonly [OutcomeKind, readonly string[]])[] = [
  ['answered', ['answered', 'answer', 'connected', 'ok', 'success', 'successful', 'completed', 'talked']],
  ['mailbox', ['mailbox', 'voicemail', 'vm', 'message', 'voicemailhere']],
  ['carrier-voicemail', ['carriervoicemail', 'foreignmailbox', 'mobilevoicemail']],
  [
    'unanswered',
    ['unanswered', 'noanswer', 'notanswered', 'missed', 'busy', 'timeout', 'noreply', 'declined', 'rejected'],
  ],
  ['abandoned', ['abandoned', 'cancel', 'cancelled', 'canceled', 'callerhungup', 'hangup', 'giveup']],
  [
    'failed',
    ['failed', 'failure', 'error', 'congestion', 'unreachable', 'nosuchnumber', 'chanunavail', 'blocked'],
  ],
  ['hung-up', ['hungup', 'ended', 'closed']],
  ['played', ['played', 'announcement']],
  ['loop', ['loop']],
];
const LEG_WORDS: readonly (readonly [LegEnd, readonly string[]])[] = [
  ['connected', ['connected', 'answered', 'answer', 'ok', 'completed']],
  ['no-answer', ['noanswer', 'unanswered', 'missed', 'timeout', 'noreply']],
  ['busy', ['busy']],
  ['rejected', ['rejected', 'declined', 'decline', 'reject']],
  ['answered-elsewhere', ['answeredelsewhere', 'elsewhere', 'pickedup']],
  ['caller-gone', ['callergone', 'cancelled', 'canceled', 'cancel', 'abandoned', 'callerhungup']],
  ['unregistered', ['unregistered', 'notregistered', 'offline']],
  ['unreachable', ['unreachable', 'off', 'failed', 'unavailable', 'chanunavail']],
  ['do-not-disturb', ['donotdisturb', 'dnd']],
  ['no-channel', ['nochannel', 'congestion', 'trunkfull']],
  ['no-route', ['noroute']],
  ['not-permitted', ['notpermitted', 'forbidden', 'denied']],
  ['given-up', ['givenup', 'stopped']],
  ['not-confirmed', ['notconfirmed']],
  ['refused', ['refused']],
];

/** What a status of SIP (RFC 3261) or a cause of ISDN (ITU-T Q.850) says of a whole call. */
function outcomeOfCode(code: number, hasTalk: boolean): OutcomeKind | null {
  if (code === 200) return 'answered';
  if (code === 487) return 'abandoned';
  if ([408, 480, 486, 600, 603].includes(code)) return 'unanswered';
  if (code >= 400 && code < 700) return 'failed';
  if (code === 16 || code === 31) return hasTalk ? 'answered' : 'abandoned';
  if ([17, 18, 19, 21].includes(code)) return 'unanswered';
  return code >= 1 && code < 128 ? 'failed' : null;
}
function endOfCode(code: number): LegEnd | null {
  if (code === 200 || code === 16) return 'connected';
  if (code === 486 || code === 600 || code === 17) return 'busy';
  if (code === 603 || code === 21) return 'rejected';
  if (code === 487) return 'caller-gone';
  if (code === 408 || code === 18 || code === 19) return 'no-answer';
  if (code === 480 || code === 404 || code === 20) return 'unregistered';
  if (code === 503 || code === 34 || code === 42) return 'no-channel';
  return code >= 400 && code < 700 ? 'unreachable' : null;
}

/** What a word or a code means for a call; null: it is not known. @param given what was said of words before */
export function outcomeOfWord(
  word: string,
  hasTalk: boolean,
  given: Readonly<Record<string, string>>,
): OutcomeKind | null {
  const key = letters(word);
  const said = given[key];
  if (said) return said as OutcomeKind;
  if (/^\d{1,3}$/.test(key)) return outcomeOfCode(Number(key), hasTalk);
  return WORDS.find(([, words]) => words.includes(key))?.[0] ?? null;
}
export function legEndOfWord(word: string): LegEnd | null {
  const key = letters(word);
  if (/^\d{1,3}$/.test(key)) return endOfCode(Number(key));
  return LEG_WORDS.find(([, words]) => words.includes(key))?.[0] ?? null;
}
export const wordKey = letters;
