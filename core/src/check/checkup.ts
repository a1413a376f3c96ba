import { CHECKS, RANK } from './checks.ts';
import type { Finding } from './finding.ts';
import type { Assessment } from './report.ts';

/** One line of a check-up: a finding with what it is about. */
export interface CheckLine {
  title: string;
  finding: Finding;
}

/**
 * Every question asked of a train with its answer, those that found nothing included: worst first, each level in the
 * order of the checks.
 */
export function checkup({ facts, findings }: Assessment): CheckLine[] {
  const lines = CHECKS.flatMap((check): CheckLine[] => {
    const { title, codes } = check;
    const found = findings.filter(({ code }) => codes.includes(code));
    if (found.length > 0) return found.map((finding) => ({ title: finding.title ?? title, finding }));
    const fine = check.fine?.(facts);
    if (fine === undefined) return [];
    return [{ title, finding: { code: check.id, level: 'passed', place: { kind: 'host' }, say: () => fine } }];
  });
  return lines.sort((a, b) => RANK[a.finding.level] - RANK[b.finding.level]);
}
