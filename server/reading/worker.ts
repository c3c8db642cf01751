import { decodeText, readCpl, readCsv, type PlacedFault } from '../../core/formats';
import type { ReadingTask, ReadText } from './pool';

/** Files that come from outside are read beside the server: however they are made, nothing else waits for them. */
export = (task: ReadingTask) => {
  if ('script' in task) return readCpl(task.script, task.person, task.estate);
  const text = decodeText(task.bytes, task.readAs);
  if (!text.ok) return { ok: false, faults: [text.fault] as readonly PlacedFault[] } satisfies ReadText;
  const read = readCsv(text.text);
  return (
    read.ok
      ? { ok: true, encoding: text.encoding, table: read.table }
      : { ok: false, encoding: text.encoding, faults: read.faults }
  ) satisfies ReadText;
};
