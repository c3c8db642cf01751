import type { Estate, Person } from '../../estate';
import { compileEstate } from '../../calls/engine';
import { judgeReach } from '../../calls/views';
import { applyEntries } from '../slate';
import { readCsv } from '../../formats';
import { entryFor, personOf, ringing, smallEstate } from '../../tests/small';
import { orderAsCsv, orderAsMarkdown } from './write';
import { workOrder } from './order';

const NOW = Date.parse('2026-11-25T18:00:00Z');
const to = (id: string): Partial<Person['plan']> => ({
  otherwise: { stages: [], ending: { kind: 'person', person: id } },
});
const estate = smallEstate([
  personOf('ada', 1, {}),
  personOf('ben', 2, to('ada')),
  personOf('cleo', 3, { otherwise: ringing([{ endpoint: 'cleo-desk' }]) }),
]);
const person = (id: string, change: (p: Person) => Person | null) => entryFor(estate, 'person', id, change);
const plan = (own: Partial<Person['plan']>) => (p: Person) => ({ ...p, plan: { ...p.plan, ...own } });

describe('a work order', () => {
  test('nobody is lost between two steps: who takes the calls over is set before who gives them up', () => {
    // Ada stops taking calls and hands them to Cleo, whose mailbox is off until it is switched on.
    const off = {
      ...estate,
      people: estate.people.map((p) => (p.id === 'cleo' ? { ...p, mailbox: { enabled: false } } : p)),
    };
    const entries = [
      entryFor(off, 'person', 'ada', plan(to('cleo'))),
      entryFor(off, 'person', 'cleo', (p: Person) => ({ ...p, mailbox: { enabled: true } })),
    ];
    const { steps, gaps } = workOrder(off, entries, NOW);
    expect(gaps).toEqual([]);
    const order = steps.filter(({ kind }) => kind === 'test').map(({ whose }) => whose);
    expect(order).toEqual(['Cleo Test', 'Ada Test']);
    let now: Estate = off;
    for (const name of order) {
      now = applyEntries(now, [entries.find((entry) => entry.name === name)!]);
      const index = compileEstate(now);
      const reach = ['ada', 'ben'].map((id) => judgeReach(index, index.people.get(id)!, NOW).state);
      expect(reach).not.toContain('lost');
    }
  });

  test('who would go round in between is set in the order in which nobody does', () => {
    // Ben hands calls to Ada now; afterwards it is the other way.
    const entries = [
      person('ada', plan(to('ben'))),
      person('ben', plan({ otherwise: ringing([{ endpoint: 'ben-desk' }]) })),
    ];
    const { steps, gaps } = workOrder(estate, entries, NOW);
    expect(gaps).toEqual([]);
    expect(steps.filter(({ kind }) => kind === 'test').map(({ whose }) => whose)).toEqual([
      'Ben Test',
      'Ada Test',
    ]);
  });

  test('each step says whose, which setting, old and new; restarts and a test call come after', () => {
    const renumbered = person('cleo', (p) => ({
      ...p,
      maxCalls: 4,
      lines: [{ ...p.lines[0]!, extension: '4199' }],
    }));
    const { steps } = workOrder(estate, [renumbered], NOW);
    expect(steps).toEqual([
      expect.objectContaining({ whose: 'Cleo Test', what: 'calls at once', before: '1', after: '4' }),
      expect.objectContaining({ what: 'l-cleo: extension', before: '4103', after: '4199' }),
      expect.objectContaining({ kind: 'restart', what: 'restart: Desk phone' }),
      expect.objectContaining({
        kind: 'test',
        what: 'test call to 4199 from outside, not answered',
        after: '1 phone rings. Voicemail for Cleo after 20 s.',
      }),
    ]);
  });

  test('shared settings come first, what is taken out last; templates stay here', () => {
    const entries = [
      person('cleo', () => null),
      person('ada', (p) => ({ ...p, maxCalls: 2 })),
      entryFor(estate, 'schedule', 'office', (s: object) => ({ ...s, closed: ['2026-12-25'] })),
      { kind: 'template', id: 't', name: 'T', base: null, after: { id: 't', name: 'T' } } as const,
    ];
    const whose = workOrder(estate, entries, NOW).steps.map((step) => step.whose);
    expect([...new Set(whose)]).toEqual(['Office', 'Ada Test', 'Cleo Test']);
  });

  test('as Markdown and CSV, with what is done ticked', () => {
    const order = workOrder(estate, [person('ada', (p) => ({ ...p, name: 'Ada *Star*', maxCalls: 2 }))], NOW);
    const head = { name: 'Winter', organisation: 'Small', note: '', date: '2026-11-25' };
    const done = new Set([order.steps[0]!.id]);
    const text = orderAsMarkdown(head, order, done);
    expect(text).toContain('## Ada');
    expect(text.match(/- \[x\]/g)).toHaveLength(1);
    expect(text).toContain('Ada \\*Star\\*');
    const table = readCsv(orderAsCsv(order, done));
    expect(table.ok && table.table.rows.map(({ cells }) => cells.at(-1))).toEqual([
      'yes',
      ...order.steps.slice(1).map(() => ''),
    ]);
  });
});
