import { analyseTable } from './analyse';
import type { AnalyseOptions, Analysis, RouteFinding } from './findings';
import { applyMend } from './mends';
import type { RouteTable } from './types';

/** So many mends are tried at most, and fewer of a large table: each trial is an analysis of its own. */
const MOST_TRIALS = 20;
const TRIAL_SIZE = 20_000;

const trialsFor = ({ routes, lists }: RouteTable): number => {
  const numbers = lists.reduce((sum, list) => sum + list.numbers.length, 0);
  return Math.max(1, Math.min(MOST_TRIALS, Math.floor(TRIAL_SIZE / (1 + routes.length + numbers / 10))));
};

/** What a finding is about: the same thing found again has the same. */
const about = ({ kind, route, peer, list }: RouteFinding): string =>
  [kind, route ?? '', peer ?? '', list ?? ''].join(' ');

const countOf = (findings: readonly RouteFinding[], isCounted: (finding: RouteFinding) => boolean) =>
  findings.filter(isCounted).length;

/** Whether a mend takes its finding away and brings no fault that was not there. */
function isMended(before: Analysis, after: Analysis, finding: RouteFinding): boolean {
  if (!after.complete) return false;
  const same = (each: RouteFinding) => about(each) === about(finding);
  const isGone =
    countOf(after.findings, same) < countOf(before.findings, same) ||
    // Of a list the wrong numbers go one by one.
    after.findings.some((each) => same(each) && (each.count ?? 0) < (finding.count ?? 0));
  const known = new Set(before.findings.filter(({ weight }) => weight === 'fault').map(about));
  return isGone && after.findings.every((each) => each.weight !== 'fault' || known.has(about(each)));
}

/** As `analyseTable`, with those mends alone that were tried on the table and do what they say. */
export function analyseAndTry(table: RouteTable, options: AnalyseOptions): Analysis {
  const before = analyseTable(table, options);
  let left = trialsFor(table);
  return {
    ...before,
    findings: before.findings.map((finding) => {
      const { mend, ...rest } = finding;
      if (!mend) return finding;
      left -= 1;
      const isTried = left >= 0 && isMended(before, analyseTable(applyMend(table, mend), options), finding);
      return isTried ? finding : rest;
    }),
  };
}
