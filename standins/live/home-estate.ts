import { emptyEstate } from '../../core/editing';
import { compileEstate } from '../../core/calls/engine';
import type { Person } from '../../core/estate';

/** Somebody with one phone that rings. */
const personOf = (id: string, extension: string): Person => ({
  id,
  name: id,
  status: 'on',
  permission: 'none',
  maxCalls: 1,
  lines: [{ id: `line-${id}`, extension, numbers: [] }],
  endpoints: [{ id, kind: 'desk', label: id }],
  plan: {
    rules: [],
    otherwise: { stages: [{ ring: [{ endpoint: id }], forMs: 20_000 }], ending: { kind: 'mailbox' } },
  },
});
/** The one whose phone is tried, and the other end. */
export const USER = 'home';
export const FAR = 'far';
export const EXTENSIONS = { [USER]: '1001', [FAR]: '1002' } as const;
export const INDEX = compileEstate({
  ...emptyEstate(),
  permissions: [{ id: 'none', name: 'None', allow: [] }],
  statuses: [{ id: 'on', name: 'On' }],
  people: [personOf(USER, EXTENSIONS[USER]), personOf(FAR, EXTENSIONS[FAR])],
});
