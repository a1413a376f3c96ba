import type { Operation } from '../train/operations.ts';
import { dialAnswer, dialOperation } from '../length/dial.ts';
import { nameOf } from '../train/model.ts';
import { formatLength, residualInWords, type LengthUnit } from '../why/wording.ts';
import { placeId, type Finding } from './finding.ts';
import { lengthInWords } from './length.ts';
import { remediesOf, type Remedy } from './remedies.ts';
import type { Assessment } from './report.ts';

/** What to do next about a train, in a sentence, with the operation that does it where there is one. */
export interface NextStep {
  sentence: string;
  /** Label of a button that does it. */
  action?: string;
  operation?: Operation;
  /** Element the sentence is about. */
  at?: string;
  /** The sentence names what is the matter: worth saying beside whatever mends it. */
  cause?: true;
}

/** Warnings that are a trait of good trains as well, or only say what is not described: told, but nothing to do next. */
const NO_STEP: ReadonlySet<string> = new Set([
  'slip-fit',
  'focuser-behind-corrector',
  'light-unknown',
  'guide-unknown',
  'reduction',
  'image-circle',
  'host-corrector-unused',
  'focus-unknown',
  'sag',
  'balance',
  'cable'
]);

/** What is only not known of these is no step: a mass, a mote. */
const NO_STEP_UNKNOWN: ReadonlySet<string> = new Set(['load', 'infrared-unknown', 'clear-unknown']);

/** Findings that say which figure is missing where a length cannot be judged. */
const MISSING_CODES: ReadonlySet<string> = new Set(['datum-offset-unknown', 'seat-unknown', 'no-datum', 'open']);

const stepOf = (remedy: Remedy, finding: Finding, unit: LengthUnit): NextStep => ({
  sentence: remedy.sentence(unit),
  action: remedy.action(unit),
  operation: remedy.operation,
  at: placeId(finding.place)
});

function lengthStep(assessment: Assessment, finding: Finding, unit: LengthUnit): NextStep {
  const [best] = remediesOf(assessment, finding);
  if (best?.cures) return stepOf(best, finding, unit);
  const known = lengthInWords(assessment.facts, unit);
  // What stands open, or what is plainly the cause, goes before a dial that only helps a little.
  if (best && known.at === undefined) return stepOf(best, finding, unit);
  return known;
}

/** A dial that would bring a train within its tolerance nearer still: quietly, since nothing has to be done. */
function free({ train, ledger, verdict, facts }: Assessment, unit: LengthUnit): NextStep | undefined {
  const best = verdict === 'on-spec' ? dialAnswer(train, ledger) : null;
  const dial =
    best && facts.dials.find(({ id, kind }) => id === best.id && (kind === 'lock-ring') === (best.lockRing === true));
  const residualMm = ledger.residualMm ?? 0;
  if (!best || dial?.kind !== 'marked' || Math.abs(best.missMm) > Math.abs(residualMm) - LEAST_GAIN_MM)
    return undefined;
  const lands = residualInWords(best.missMm, unit);
  return {
    sentence: `Nothing is left to do here. With ${nameOf(train, dial.id)} at ${formatLength(best.setMm, unit)} it is ${lands}.`,
    action: `Set it to ${formatLength(best.setMm, unit)}`,
    operation: dialOperation(dial, best.setMm),
    at: dial.id
  };
}

/** Nearer by less than this is not worth a turn of the hand, mm. */
const LEAST_GAIN_MM = 0.01;

/** The most useful single thing to do next: mend an error, turn a dial, take a nose off, add or remove length. */
export function nextStep(assessment: Assessment, unit: LengthUnit): NextStep {
  const { findings, verdict } = assessment;
  const [broken] = assessment.errors;
  if (broken) {
    // Right in length, a train that does not screw together is still none.
    const [remedy] = remediesOf(assessment, broken);
    const said = { sentence: broken.say(unit), at: placeId(broken.place) };
    return remedy ? { ...said, action: remedy.action(unit), operation: remedy.operation } : said;
  }
  const unknown = assessment.missing && findings.find(({ code }) => MISSING_CODES.has(code));
  if (unknown) return { sentence: unknown.say(unit), at: placeId(unknown.place) };
  const off = findings.find(({ code, level }) => code === 'length' && level === 'error');
  if (off) return lengthStep(assessment, off, unit);
  const worst = findings.find(
    ({ level, code }) =>
      (level === 'warning' || (level === 'not-known' && !NO_STEP_UNKNOWN.has(code))) && !NO_STEP.has(code)
  );
  if (worst) {
    // A place that is filled is only to be closed: no harm, and one press.
    const [remedy] = worst.code === 'open' ? remediesOf(assessment, worst) : [];
    return remedy ? stepOf(remedy, worst, unit) : { sentence: worst.say(unit), at: placeId(worst.place) };
  }
  if (verdict === 'free') {
    return { sentence: 'Any length that reaches focus will do.' };
  }
  return free(assessment, unit) ?? { sentence: 'Nothing is left to do here.' };
}
