import { faultsOf, parts, withNewNames, type Fault } from '../../estate';
import { callFaults, OUTCOME_KINDS } from '../engine';
import { DRILLS_FORMAT, type Drill, type DrillFile } from './types';

const standsFor = parts.closed({
  person: parts.id(),
  group: parts.id(),
  menu: parts.id(),
  template: parts.id(),
});
const expected = parts.closed({
  kind: parts.oneOf(OUTCOME_KINDS).required('is missing'),
  person: parts.id(),
  endpoint: parts.id(),
  fromMs: parts.ms(),
  byMs: parts.ms(),
});
const drillSchema = parts.closed({
  id: parts.requiredId(),
  name: parts.text(200).required('is missing'),
  standsFor: standsFor.required('is missing'),
  call: parts.anything(),
  status: parts.id(),
  expect: expected.required('is missing'),
});
const fileSchema = parts.closed({
  format: parts.oneOf([DRILLS_FORMAT]).required('is missing'),
  drills: parts.requiredList(parts.anything()),
});

/** The faults of one drill, with paths inside it. */
export function drillFaults(value: unknown): Fault[] {
  const form = faultsOf(drillSchema, value);
  if (form.length > 0) return form;
  const { standsFor: whom, call, expect } = value as Drill;
  const faults: Fault[] = [];
  if (Object.keys(whom).length !== 1)
    faults.push({ path: 'standsFor', message: 'must name one person, group, menu or template' });
  const withTo = typeof call === 'object' && call !== null ? { ...call, to: '0' } : call;
  faults.push(
    ...callFaults(withTo).map((fault) => ({ ...fault, path: `call.${fault.path}`.replace(/\.$/, '') })),
  );
  if (expect.fromMs !== undefined && expect.byMs !== undefined && expect.fromMs > expect.byMs)
    faults.push({ path: 'expect.byMs', message: 'is before `fromMs`' });
  return faults;
}

export type ReadDrills =
  | { readonly ok: true; readonly drills: readonly Drill[] }
  | { readonly ok: false; readonly faults: readonly Fault[] };

/** Reads a value as a drill file (`hostler-drills/1`). */
export function readDrills(value: unknown): ReadDrills {
  const file = withNewNames(value);
  const form = faultsOf(fileSchema, file);
  if (form.length > 0) return { ok: false, faults: form };
  const { drills } = file as DrillFile;
  const seen = new Set<string>();
  const faults = drills.flatMap((drill, i) => {
    const own = drillFaults(drill).map((fault) => ({ ...fault, path: `drills[${i}].${fault.path}` }));
    if (own.length > 0) return own;
    const twice = seen.has(drill.id);
    seen.add(drill.id);
    return twice ? [{ path: `drills[${i}].id`, message: `there is a drill "${drill.id}" already` }] : [];
  });
  return faults.length > 0 ? { ok: false, faults } : { ok: true, drills };
}
