import { WaveFile } from 'wavefile';
import {
  decodeText,
  readCpl,
  readCsv,
  readRosterCalendar,
  readRosters,
  readWavHead,
  STAFF_LIMITS,
  type PlacedFault,
  type RosterList,
} from '../../core/formats';
import { readRoundList, type ReadRoundList } from '../../core/rounds';
import { SAMPLES_PER_S, toMuLaw } from '../../core/wire/rtp';
import type { EstateOrFaults } from '../../core/estate';
import { readEstateFile } from '../../core/routes';
import type { ReadingTask, ReadSound, ReadText, RosterTask, RoundListTask } from './pool';

/** Files that come from outside are read beside the server: however they are made, nothing else waits for them. */
/** An estate file as it was sent: JSON in UTF-8, then its form, then what it refers to. */
function readEstateBytes(bytes: Uint8Array): EstateOrFaults {
  let value: unknown;
  try {
    value = JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes));
  } catch {
    return { ok: false, faults: [{ path: '', message: 'is no JSON in UTF-8' }] };
  }
  return readEstateFile(value);
}

/** The longest recording, in ms. */
const MOST_MS = 300_000;

/** A WAV file as one channel of 8000 samples a second in µ-law; no more of it is read than its head lets. */
function readWav(bytes: Uint8Array): ReadSound {
  const head = readWavHead(bytes, MOST_MS);
  if (!head.ok) return head;
  try {
    const file = new WaveFile(bytes);
    if (file.bitDepth === '8a') file.fromALaw();
    if (file.bitDepth === '8m') file.fromMuLaw();
    file.toBitDepth('16');
    if (head.facts.rate !== SAMPLES_PER_S) file.toSampleRate(SAMPLES_PER_S, { method: 'cubic', LPF: true });
    const samples = file.getSamples(false, Int16Array) as unknown as Int16Array | readonly Int16Array[];
    const channels = samples instanceof Int16Array ? [samples] : samples;
    const length = channels[0]!.length;
    const muLaw = Uint8Array.from({ length }, (_each, n) =>
      toMuLaw(channels.reduce((sum, channel) => sum + channel[n]!, 0) / channels.length),
    );
    return { ok: true, muLaw, ms: Math.round((length / SAMPLES_PER_S) * 1000) };
  } catch {
    return { ok: false, why: 'The sound of this WAV file could not be read. Save it as PCM and try again.' };
  }
}

/** A list of numbers to call: text, then a table, then each row judged. */
function readList({ list, judge }: RoundListTask): ReadRoundList {
  const text = decodeText(list);
  if (!text.ok) return { ok: false, faults: [text.fault] };
  const read = readCsv(text.text);
  return read.ok ? readRoundList(read.table, judge) : read;
}

/** Rosters: a calendar if it begins as one, else a table. */
function readRosterList({ rosters, estate, today }: RosterTask): RosterList {
  const none = { people: [], schedules: [], same: 0 };
  const text = decodeText(rosters);
  if (!text.ok) return { ...none, faults: [text.fault] };
  if (/^\s*BEGIN:VCALENDAR/i.test(text.text)) return readRosterCalendar(text.text, estate, today);
  const read = readCsv(text.text, STAFF_LIMITS);
  return read.ok ? readRosters(read.table, estate) : { ...none, faults: read.faults };
}

export = (task: ReadingTask) => {
  if ('estateFile' in task) return readEstateBytes(task.estateFile);
  if ('script' in task) return readCpl(task.script, task.person, task.estate);
  if ('wav' in task) return readWav(task.wav);
  if ('list' in task) return readList(task);
  if ('rosters' in task) return readRosterList(task);
  const text = decodeText(task.bytes, task.readAs);
  if (!text.ok) return { ok: false, faults: [text.fault] as readonly PlacedFault[] } satisfies ReadText;
  const read = readCsv(text.text, STAFF_LIMITS);
  return (
    read.ok
      ? { ok: true, encoding: text.encoding, table: read.table }
      : { ok: false, encoding: text.encoding, faults: read.faults }
  ) satisfies ReadText;
};
