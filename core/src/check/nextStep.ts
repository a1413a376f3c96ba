import { formatLength, residualInWords, type LengthUnit } from '../length/wording.ts';
import { ASSUMPTION_CODES } from './problems.ts';
import { apply, type Operation } from '../train/operations.ts';
import { findElement, type Train } from '../train/model.ts';
import { assess, type Assessment } from './check.ts';

/** What to do next about a train, in a sentence, with the operation that does it where there is one. */
export interface NextStep {
  sentence: string;
  /** Label of a button that does it. */
  action?: string;
  operation?: Operation;
  /** Element the sentence is about. */
  at?: string;
}

const errorsOf = ({ report }: Assessment): number =>
  report.problems.filter(({ severity }) => severity === 'error').length;

/** A removable part whose absence brings the train inside tolerance: tried, faces and glass included. */
function removalThatHelps(train: Train, assessment: Assessment, unit: LengthUnit): NextStep | undefined {
  const { residualMm, verdict } = assessment.report;
  if (residualMm === null || verdict !== 'long') return undefined;
  for (const element of train.elements) {
    if (!('removable' in element) || !element.removable || element.kind === 'camera') continue;
    const operation: Operation = { op: 'remove', id: element.id };
    const without = assess(apply(train, operation));
    if (without.report.verdict !== 'on-spec' || errorsOf(without) > errorsOf(assessment)) continue;
    const gained = residualMm - (without.report.residualMm ?? 0);
    return {
      sentence: `Taking ${element.name} (${formatLength(gained, unit)}) out brings it on spec.`,
      action: `Take ${element.name} out`,
      operation,
      at: element.id
    };
  }
  return undefined;
}

function dialStep(train: Train, { report }: Assessment, unit: LengthUnit): NextStep | undefined {
  const { dial, residualMm } = report;
  const name = dial && findElement(train, dial.id)?.name;
  if (!dial || !name || residualMm === null) return undefined;
  if (dial.reachable) {
    return {
      sentence: `Set ${name} to ${formatLength(dial.setMm, unit)}.`,
      action: `Set it to ${formatLength(dial.setMm, unit)}`,
      operation: { op: 'set', at: dial.id, path: ['adjust', 'setMm'], to: dial.setMm },
      at: dial.id
    };
  }
  return {
    sentence: `${name} alone cannot absorb it: at ${formatLength(dial.setMm, unit)} the train is still ${residualInWords(dial.missMm, unit)}.`,
    at: dial.id
  };
}

function lengthStep(train: Train, { report }: Assessment, unit: LengthUnit): NextStep {
  const size = formatLength(Math.abs(report.residualMm ?? 0), unit);
  if (report.verdict === 'long') return { sentence: `Take ${size} of length out.` };
  const gap = train.elements.find(({ kind }) => kind === 'gap');
  return gap
    ? { sentence: `Put ${size} of rings where “${gap.name}” stands.`, at: gap.id }
    : { sentence: `Add ${size} of length at a joint.` };
}

/** The most useful single thing to do next: mend an error, turn a dial, take a nose off, add or remove length. */
export function nextStep(train: Train, assessment: Assessment, unit: LengthUnit = 'mm'): NextStep {
  const { report } = assessment;
  // Right in length, a train that does not screw together is still none.
  const broken = report.problems.find(({ severity }) => severity === 'error');
  if (broken) return { sentence: broken.message, at: broken.at };
  if (report.verdict === 'short' || report.verdict === 'long') {
    const dial = dialStep(train, assessment, unit);
    if (dial?.operation) return dial;
    return removalThatHelps(train, assessment, unit) ?? dial ?? lengthStep(train, assessment, unit);
  }
  const worst = report.problems.find(({ code }) => !ASSUMPTION_CODES.has(code));
  if (worst) return { sentence: worst.message, at: worst.at };
  return {
    sentence: report.verdict === 'free' ? 'Any length that reaches focus will do.' : 'Nothing is left to do here.'
  };
}
