import { finderOf, sliceFor } from '../editing';
import type { Estate, Person, RingTarget, Stage, Treatment, PromiseKind, ReachPromise } from '../estate';
import { judgeOf, provePromises } from '../assurance/promises';
import { compileEstate, runInDetail, type Call } from '../calls/engine';
import { smallEstate } from './small';

export const FROM = Date.parse('2026-11-23T08:00:00Z');
export const PROMISES: readonly ReachPromise[] = [
  { kind: 'own-mailbox', withinMs: 25_000 },
  { kind: 'no-carrier-voicemail' },
  { kind: 'no-cut-off', withinMs: 1000 },
  { kind: 'rings-within', withinMs: 5000 },
  { kind: 'no-silence', longestMs: 7000 },
  { kind: 'wait-at-most', longestMs: 30_000 },
  { kind: 'one-lost' },
  { kind: 'only-inside', schedule: 'office' },
  { kind: 'may-dial' },
  { kind: 'no-loop' },
  { kind: 'no-leaver', status: 'left' },
  { kind: 'no-stranger', allowed: [] },
];

/** An estate with Ada (a desk phone, a mobile) and Ben, whose plan is one mailbox. */
export function estateWith(otherwise: Treatment, more: Partial<Person> = {}): Estate {
  const base = { status: 'on', permission: 'all', maxCalls: 1 };
  return smallEstate([
    {
      ...base,
      id: 'ada',
      name: 'Ada',
      lines: [{ id: 'ada-1', extension: '4100', numbers: [] }],
      endpoints: [
        { id: 'ada-desk', label: 'Desk', kind: 'desk' },
        {
          id: 'ada-mobile',
          label: 'Mobile',
          kind: 'mobile',
          number: '+17785550101',
          mailboxAfterMs: 15_000,
        },
      ],
      plan: { rules: [], otherwise },
      ...more,
    },
    {
      ...base,
      id: 'ben',
      name: 'Ben',
      lines: [{ id: 'ben-1', extension: '4101', numbers: [] }],
      endpoints: [],
      plan: { rules: [], otherwise: { stages: [], ending: { kind: 'mailbox' } } },
    },
  ]);
}

export const prove = (estate: Estate, promises = PROMISES, spread = 0) =>
  provePromises(sliceFor(estate, finderOf(estate), 'ada'), 'ada', promises, {
    spread,
    fromMs: FROM,
    everyStatus: false,
  });

export const ring = (forMs: number, ...ring: RingTarget[]): Stage => ({ ring, forMs });

/** The promises that some of these calls for Ada break. */
export function brokenIn(estate: Estate, calls: Iterable<Call>): ReadonlySet<PromiseKind> {
  const index = compileEstate(estate);
  const ada = index.people.get('ada')!;
  const left = new Map(PROMISES.map((promise) => [promise.kind, judgeOf(promise, index, ada)]));
  const broken = new Set<PromiseKind>();
  for (const call of calls) {
    const run = runInDetail(index, call, false);
    for (const [kind, judge] of left)
      if (judge(call, run)) {
        broken.add(kind);
        left.delete(kind);
      }
  }
  return broken;
}

/** Expects that all is gone through, and that none of these calls breaks what is proved. @returns how much was proved */
export function holdTo(
  estate: Estate,
  calls: Iterable<Call>,
): { readonly held: number; readonly broke: number } {
  const { proofs, complete } = prove(estate);
  expect(complete).toBe(true);
  const broken = brokenIn(estate, calls);
  for (const { promise, holds } of proofs)
    expect([promise.kind, holds && broken.has(promise.kind)]).toEqual([promise.kind, false]);
  const held = proofs.filter(({ holds }) => holds).length;
  return { held, broke: proofs.length - held };
}
