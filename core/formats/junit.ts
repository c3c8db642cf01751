import { XMLBuilder } from 'fast-xml-parser';

/** One test of a run, in the terms of the JUnit XML report that build servers read. */
export interface ReportedCase {
  readonly suite: string;
  readonly name: string;
  /** Why it failed; null: it passed. */
  readonly failure: string | null;
}

/**
 * A report in JUnit XML: a suite for each drill, a case for each call. Characters that XML 1.0 does not allow are
 * replaced.
 */
export function writeJUnit(name: string, cases: readonly ReportedCase[]): string {
  const suites = new Map<string, ReportedCase[]>();
  for (const each of cases) suites.set(each.suite, [...(suites.get(each.suite) ?? []), each]);
  const failures = (all: readonly ReportedCase[]) => all.filter(({ failure }) => failure !== null).length;
  const builder = new XMLBuilder({ ignoreAttributes: false, attributeNamePrefix: '@', format: true });
  const body = builder.build({
    testsuites: {
      '@name': clean(name),
      '@tests': cases.length,
      '@failures': failures(cases),
      testsuite: [...suites].map(([suite, all]) => ({
        '@name': clean(suite),
        '@tests': all.length,
        '@failures': failures(all),
        testcase: all.map((each) => ({
          '@classname': clean(suite),
          '@name': clean(each.name),
          ...(each.failure === null ? {} : { failure: { '@message': clean(each.failure) } }),
        })),
      })),
    },
  });
  return `<?xml version="1.0" encoding="UTF-8"?>\n${body}`;
}

/** What XML 1.0, section 2.2, leaves out, and the other control characters but tabs and line ends. */
const clean = (text: string) => text.replace(/[^\P{Cc}\t\n\r]|[\ufffe\uffff]/gu, '\ufffd');
