import { fieldsAt, type Estate, type Person } from '../../estate';
import { affectedBy, applyEntries } from '../../changes/slate';
import { ada, ben, both, CASES, GOOD, HOME, NOW, office, toBen } from '../../tests/audited';
import { crewOf, entryFor, personOf, smallEstate } from '../../tests/small';
import { audit, auditorOf } from './audit';
import { checkContext } from './context';
import { CHECKS } from './all';
import { sarifLog } from './sarif';
import type { Finding } from './types';

/** Ada’s desk phone runs an older extension; only the check of restarts looks at that. */
const BEHIND = [
  {
    endpoint: 'ada-old',
    running: { kind: 'desk', extensions: ['4999'], wakes: true, wakeMs: 3600 } as const,
  },
];
const found = (estate: Estate): Finding[] => audit(checkContext(estate, NOW, BEHIND));
const ids = (findings: readonly Finding[]) => new Set(findings.map(({ check }) => check));

/** Nothing to find: safe times, hours with a holiday, enough channels. */
const healthy = smallEstate([ada(both({}), { mailbox: {} })], {
  schedules: [{ ...office, closed: ['2026-12-25'] }],
  sites: [{ ...HOME, stableAddress: true, sipAlg: 'rewrites-well' }],
  devices: [
    { ...GOOD, natMethod: 'border-controller', remoteRegistration: true },
    { ...GOOD, id: 'd2', endpoint: 'ada-mobile', signedOn: { person: 'ada', since: '2026-11-25T14:00:00Z' } },
  ],
});

describe('checks', () => {
  test('there are more than thirty, each with a case here, and each says what it is for', () => {
    expect(CASES.map(([check]) => check).sort()).toEqual(CHECKS.map(({ id }) => id).sort());
    expect(CHECKS.length).toBeGreaterThan(30);
    for (const check of CHECKS)
      expect([check.title, check.looksFor, check.why].every((text) => text.length > 10)).toBe(true);
  });

  test('a healthy estate has no findings', () => {
    expect(found(healthy).map(({ key, says }) => `${key}: ${says}`)).toEqual([]);
  });

  test.each(CASES)('%s finds what it looks for, and its mend takes it away', (check, estate) => {
    const hits = found(estate).filter((each) => each.check === check);
    expect(hits.length).toBeGreaterThan(0);
    for (const { mend, key, says } of hits) {
      expect(says).toMatch(/\.$/);
      if (!mend) continue;
      const after = applyEntries(estate, mend.entries);
      expect(found(after).map((each) => each.key)).not.toContain(key);
    }
  });

  test('each finding has a key of its own', () => {
    for (const [, estate] of CASES) {
      const keys = found(estate).map(({ key }) => key);
      expect(new Set(keys).size).toBe(keys.length);
    }
  });

  test('where a finding lies is a path of the estate, in the words of its file', () => {
    const paths = CASES.flatMap(([, estate]) =>
      found(estate).flatMap(({ evidence = [] }) => evidence.flatMap(({ setting }) => setting ?? [])),
    );
    expect(paths.length).toBeGreaterThan(50);
    expect([...new Set(paths)].filter((path) => fieldsAt(path, 'estate').length === 0)).toEqual([]);
  });

  test('after a change only what it can affect is looked at again, and all is as if everything had been', () => {
    const estate = smallEstate([ada(toBen('person')), ben, personOf('cleo', 3, {})], { groups: [crewOf()] });
    const entries = [entryFor(estate, 'person', 'ben', (p: Person) => ({ ...p, status: 'left' }))];
    const after = applyEntries(estate, entries);
    const affected = affectedBy(estate, after, entries);
    expect(affected).not.toContainEqual({ kind: 'person', id: 'cleo' });
    const auditor = auditorOf(estate, NOW);
    auditor.change(after);
    expect(auditor.findings).toEqual(audit(checkContext(after, NOW)));
    expect(ids(auditor.findings)).toContain('leads-to-leaver');
  });

  test('as SARIF each result names a rule, a level and where', () => {
    const findings = found(CASES[0]![1]);
    const { runs } = sarifLog(findings);
    const [run] = runs;
    expect(run!.results).toHaveLength(findings.length);
    for (const result of run!.results) {
      expect(run!.tool.driver.rules[result.ruleIndex]!.id).toBe(result.ruleId);
      expect(['error', 'warning', 'note']).toContain(result.level);
      expect(result.locations[0]!.logicalLocations[0]!.fullyQualifiedName).toMatch(/./);
    }
  });
});

test('a seat that passes calls where the group may call, to a number that nobody watches, is no finding', () => {
  const [, cannot] = CASES.find(([check]) => check === 'seat-cannot-pass')!;
  const seats = cannot.seats!.map((seat) => ({
    ...seat,
    unattended: { passTo: { number: '+12505550142' } },
  }));
  const seatFindings = (estate: Estate) =>
    found(estate).flatMap(({ check, says }) => (check.startsWith('seat-') ? [says] : []));
  expect(seatFindings({ ...cannot, seats })).toEqual([]);
  // Of two groups that have it, the one that may not call there is told.
  const other = { ...cannot.groups[0]!, id: 'other', name: 'Other', extension: '4301', permission: 'none' };
  const permissions = [...cannot.permissions, { id: 'none', name: 'None', allow: [] }];
  expect(seatFindings({ ...cannot, seats, permissions, groups: [...cannot.groups, other] })).toEqual([
    'S passes the calls of Other to +1 250 555 0142, which the group may not call.',
  ]);
});
