import type { Part } from '../drawer/part.ts';
import { standingIn } from '../train/model.ts';
import { apply, OperationError, type Operation } from '../train/operations.ts';
import { readTrain } from '../train/read.ts';
import type { LengthUnit } from '../why/wording.ts';
import { isSameFinding, type Finding, type Proposal } from './finding.ts';
import { Assessment } from './report.ts';

/** A change that was tried: it makes what it is for better, and nothing else wrong. */
export interface Remedy {
  action: (unit: LengthUnit) => string;
  sentence: (unit: LengthUnit) => string;
  operation: Operation;
  /** What it is for is gone afterwards, not only less. */
  cures: boolean;
  after: Assessment;
}

/** The train as a change leaves it; undefined where it cannot be made, or makes no valid train. */
export function changed({ train }: Assessment, operation: Operation): Assessment | undefined {
  try {
    const reading = readTrain(apply(train, operation));
    return reading.ok ? new Assessment(reading.document) : undefined;
  } catch (error) {
    if (error instanceof OperationError) return undefined;
    throw error;
  }
}

const isError = ({ level }: Finding): boolean => level === 'error';

/** What a change has made wrong that was not. */
export function addedErrors(before: Assessment, after: Assessment): Finding[] {
  const known = before.findings.filter(isError);
  return after.findings.filter(isError).filter((finding) => !known.some((each) => isSameFinding(each, finding)));
}

/** Whether a change has made something wrong that was not. */
export const addsError = (before: Assessment, after: Assessment): boolean => addedErrors(before, after).length > 0;

/** Lengths that are the same but for the noise of binary sums, mm. */
const SAME_MM = 1e-6;

/** What has become of a finding: gone, less, or neither. */
function outcome(finding: Finding, after: Assessment): 'cured' | 'less' | 'same' {
  const still = after.findings.find((each) => each.level !== 'passed' && isSameFinding(each, finding));
  if (!still) return 'cured';
  const less = finding.badness !== undefined && still.badness !== undefined && still.badness < finding.badness - 1e-6;
  return less || (isError(finding) && !isError(still)) ? 'less' : 'same';
}

function tried(before: Assessment, finding: Finding, proposal: Proposal): Remedy | undefined {
  const after = changed(before, proposal.operation);
  if (!after || (!proposal.reveals && addsError(before, after))) return undefined;
  const [beforeMm, afterMm] = [before.ledger.residualMm, after.ledger.residualMm];
  const moved = beforeMm === null || afterMm === null ? beforeMm !== afterMm : Math.abs(beforeMm - afterMm) > SAME_MM;
  if (proposal.keepsLength && moved) return undefined;
  const result = outcome(finding, after);
  if (result === 'same') return undefined;
  return {
    action: proposal.action,
    sentence: (unit) => proposal.sentence(unit, after.ledger.residualMm),
    operation: proposal.operation,
    cures: result === 'cured',
    after
  };
}

/**
 * What would mend a finding, each tried: it makes the finding less and adds no error. Cures first.
 *
 * @param parts of the drawer that may be used; copies that stand in the train already are not used twice
 */
export function remediesOf(assessment: Assessment, finding: Finding, parts: readonly Part[] = []): Remedy[] {
  if (!finding.proposals) return [];
  const standing = standingIn(assessment.train);
  const free = parts.flatMap((part): Part[] => {
    const left = part.quantity - (standing.get(part.partId) ?? 0);
    if (!part.owned || part.state === 'set-aside' || left <= 0) return [];
    return [left === part.quantity ? part : { ...part, quantity: left }];
  });
  return finding
    .proposals(free)
    .flatMap((proposal) => tried(assessment, finding, proposal) ?? [])
    .sort((a, b) => Number(b.cures) - Number(a.cures));
}
