import { auditorOf, type Auditor, type FindingsChange } from '../../core/assurance/checks';
import { withOthers, type Estate, type Person } from '../../core/estate';
import { readShared } from '../base';
import type { AuditTask, Audited } from './store';

/** What was gone through last: this thread is the only one, and is asked for one thing after the other. */
let last: {
  readonly of: string;
  readonly estate: Estate;
  readonly auditor: Auditor;
  readonly nowMs: number;
} | null = null;

function again(to: string, people: readonly Person[], nowMs: number): FindingsChange | null {
  if (!last || last.nowMs !== nowMs) return null;
  const now = withOthers(last.estate.people, people);
  if (!now) return null;
  const estate = { ...last.estate, people: now };
  const change = last.auditor.change(estate);
  last = change && { ...last, of: to, estate };
  return change;
}

export = (task: AuditTask): Audited => {
  if (!('shared' in task)) return task.from === last?.of ? again(task.to, task.people, task.nowMs) : null;
  const estate = readShared<Estate>(task.shared);
  const auditor = auditorOf(estate, task.nowMs);
  last = { of: task.of, estate, auditor, nowMs: task.nowMs };
  return { gone: [], fresh: auditor.findings };
};
