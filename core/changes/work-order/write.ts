import { writeCsv } from '../../formats';
import type { WorkOrder, WorkStep } from './order';

export interface OrderHead {
  readonly name: string;
  readonly organisation: string;
  readonly note: string;
  /** The date on which it was written, as it is shown. */
  readonly date: string;
}

const KINDS: Record<WorkStep['kind'], string> = { setting: 'Set', restart: 'Restart', test: 'Test' };

/** A step in one line of words. */
export const sayStep = ({ kind, what, before, after }: WorkStep): string =>
  kind === 'setting' ? `${what}: ${before} → ${after}` : `${what}. ${after}`;

/** Text that Markdown would take for marks of its own is escaped. */
const escaped = (text: string) =>
  text.replace(/[\\`*_{}[\]<>#|]/g, (mark) => `\\${mark}`).replace(/\s+/g, ' ');

/** A work order as Markdown: a box to tick for each step, under whose it is. */
export function orderAsMarkdown(
  head: OrderHead,
  { steps, gaps }: WorkOrder,
  done: ReadonlySet<string>,
): string {
  const lines = [`# ${escaped(head.name)}`, '', `${escaped(head.organisation)}, ${head.date}`, ''];
  if (head.note) lines.push(escaped(head.note), '');
  for (const gap of gaps) lines.push(`> ${escaped(gap)}`, '');
  let whose = '';
  steps.forEach((step, i) => {
    if (step.whose !== whose) {
      whose = step.whose;
      lines.push('', `## ${escaped(whose)}`, '');
    }
    lines.push(
      `- [${done.has(step.id) ? 'x' : ' '}] ${i + 1}. ${KINDS[step.kind]}: ${escaped(sayStep(step))}`,
    );
  });
  return `${lines.join('\n')}\n`;
}

/** A work order as CSV, a step in each row. */
export const orderAsCsv = ({ steps }: WorkOrder, done: ReadonlySet<string>): string =>
  writeCsv(
    ['step', 'do', 'whose', 'setting', 'old value', 'new value', 'done'],
    steps.map((step, i) => [
      String(i + 1),
      KINDS[step.kind],
      step.whose,
      step.what,
      step.before,
      step.after,
      done.has(step.id) ? 'yes' : '',
    ]),
  );
