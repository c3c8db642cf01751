import { readEstate, type EstateOrFaults, type Fault } from '../estate';
import { readTable } from './schema';

const under = ({ path, message }: Fault): Fault => ({
  path: path === '' ? 'routing' : `routing.${path}`,
  message,
});

/** Reads a value as an estate file with all it can hold: the estate itself, then its route table. */
export function readEstateFile(value: unknown): EstateOrFaults {
  const read = readEstate(value);
  if (!read.ok || read.estate.routing === undefined) return read;
  const { routing, schedules } = read.estate;
  const table = readTable(
    typeof routing === 'object' && !('schedules' in routing) ? { ...routing, schedules } : routing,
  );
  return table.ok ? read : { ok: false, faults: table.faults.map(under) };
}
