import { CHECKS } from './all';
import type { Finding, Weight } from './types';

const LEVELS: Record<Weight, 'error' | 'warning' | 'note'> = {
  fault: 'error',
  risk: 'warning',
  note: 'note',
};

/**
 * Findings as a log in the Static Analysis Results Interchange Format (OASIS SARIF 2.1.0): a rule for each check, a
 * result for each finding, its place in the estate as a logical location (section 3.33), its key as a fingerprint.
 */
export const sarifLog = (findings: readonly Finding[]) => ({
  version: '2.1.0',
  runs: [
    {
      tool: {
        driver: {
          name: 'Hostler',
          rules: CHECKS.map(({ id, title, looksFor, why, weight }) => ({
            id,
            shortDescription: { text: title },
            fullDescription: { text: looksFor },
            help: { text: why },
            defaultConfiguration: { level: LEVELS[weight] },
          })),
        },
      },
      results: findings.map(({ key, check, says, subject, weight, evidence = [] }) => ({
        ruleId: check,
        ruleIndex: CHECKS.findIndex(({ id }) => id === check),
        level: LEVELS[weight],
        message: { text: `${subject.name}: ${says}` },
        locations: [
          {
            logicalLocations: [
              {
                name: subject.name,
                kind: subject.kind,
                fullyQualifiedName: evidence[0]?.setting ?? `${subject.kind}/${subject.id}`,
              },
            ],
          },
        ],
        partialFingerprints: { 'hostlerKey/v1': key },
      })),
    },
  ],
});
