import { decodeText, readCpl, readCsv, type PlacedFault } from '../../core/formats';
import type { EstateOrFaults } from '../../core/estate';
import { readEstateFile } from '../../core/routes';
import type { ReadingTask, ReadText } from './pool';

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

export = (task: ReadingTask) => {
  if ('estateFile' in task) return readEstateBytes(task.estateFile);
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
