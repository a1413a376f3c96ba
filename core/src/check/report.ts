import type { DialAnswer } from '../length/dial.ts';
import { dialAnswer } from '../length/dial.ts';
import { chanceWithinInWords, uncertaintyOf, type Uncertainty } from '../doubt/uncertainty.ts';
import type { FocusReport } from '../focus/budget.ts';
import type { GuideReport } from '../guide/guide.ts';
import type { LightReport } from '../light/light.ts';
import type { LoadReport } from '../load/load.ts';
import type { Entry, Ledger, Required, SlotRequirement } from '../length/ledger.ts';
import { readTrain, type Reading } from '../train/read.ts';
import type { Train } from '../train/model.ts';
import { verdictInWords, type LengthUnit, type Verdict } from '../why/wording.ts';
import { isBackFocusUnknown } from './backFocus.ts';
import { findingsOf } from './checks.ts';
import { Facts } from './facts.ts';
import { placeId, type Finding } from './finding.ts';
import { verdictOf } from './length.ts';

/** A finding as `check --json` prints it. */
export interface ReportedProblem {
  severity: 'error' | 'warning';
  code: string;
  /** Element id, or `host`. A joint's problem is at its camera-side element. */
  at: string;
  message: string;
}

/** The answer to "is this train right?", as `check --json` prints it. Lengths unrounded, mm. */
export interface CheckReport {
  required: Required;
  actual: { totalMm: number; entries: Entry[] };
  residualMm: number | null;
  verdict: Verdict;
  slots: SlotRequirement[];
  dial: DialAnswer | null;
  uncertainty: Uncertainty;
  problems: ReportedProblem[];
  /** Null, with a finding that says what is missing, where the sensor is not known. */
  light: LightReport | null;
  /** Null where no guide prism stands in the beam. */
  guide: GuideReport | null;
  load: LoadReport;
  /** Null where nothing is stated of the host’s own focus. */
  focus: FocusReport | null;
}

/** What keeps a length from being judged: what is required, how long the train is, or a place that has to be filled. */
export type Missing = 'back-focus' | 'length' | 'filling';

/** Everything reckoned about a train: each part of it when it is first asked for. */
export class Assessment {
  readonly facts: Facts;
  /** `free` also where the length cannot be judged: {@link missing} says why. */
  readonly verdict: Verdict;
  /** What keeps the length from being judged; undefined where it is judged, or nothing asks for one. */
  readonly missing: Missing | undefined;
  /** A place that has to hold something stands empty. */
  readonly hasEmptyPlace: boolean;
  #findings: Finding[] | undefined;
  #uncertainty: Uncertainty | undefined;
  #report: CheckReport | undefined;

  constructor(train: Train) {
    this.facts = new Facts(train);
    const { ledger } = this.facts;
    const { residualMm, required, datumUnknown, depthsUnknown } = ledger;
    const verdict = verdictOf(residualMm, required.toleranceMm);
    this.hasEmptyPlace = this.facts.hasEmptyPlace;
    this.missing =
      datumUnknown || isBackFocusUnknown(ledger)
        ? 'back-focus'
        : depthsUnknown.length > 0 && required.totalMm !== null
          ? 'length'
          : verdict === 'on-spec' && this.hasEmptyPlace
            ? 'filling'
            : undefined;
    this.verdict = this.missing ? 'free' : verdict;
  }

  get train(): Train {
    return this.facts.train;
  }

  get ledger(): Ledger {
    return this.facts.ledger;
  }

  /** Everything worth telling, worst first, what passed last. */
  get findings(): readonly Finding[] {
    return (this.#findings ??= findingsOf(this.facts));
  }

  /** What is wrong; the length's own verdict is not among them. */
  get errors(): readonly Finding[] {
    return this.findings.filter(({ level, code }) => level === 'error' && code !== 'length');
  }

  /** Of a train with a place that has to be filled there is no chance: it is another train then. */
  get uncertainty(): Uncertainty {
    const { residualMm, required } = this.ledger;
    const judgedMm = this.missing || this.hasEmptyPlace ? null : residualMm;
    return (this.#uncertainty ??= uncertaintyOf(this.facts.spread, judgedMm, required.toleranceMm));
  }

  /** Within tolerance, or nothing asks for a length; what is not known is neither. */
  get isLengthRight(): boolean {
    return this.missing === undefined && (this.verdict === 'on-spec' || this.verdict === 'free');
  }

  /** Good: the length is right and nothing is wrong. What is not known is never good. */
  get isGood(): boolean {
    return this.isLengthRight && !this.hasEmptyPlace && this.errors.length === 0;
  }

  /** The number of the verdict, in words. */
  verdictInWords(unit: LengthUnit): string {
    const whole = this.errors.length === 0 && !this.hasEmptyPlace;
    return this.missing
      ? MISSING_WORDS[this.missing]
      : verdictInWords(this.verdict, this.ledger.residualMm, unit, whole);
  }

  /** How likely the length is within tolerance, in words; null where that is not known. */
  get chanceInWords(): string | null {
    const chance = this.uncertainty.probabilityInTolerance;
    return chance === null ? null : chanceWithinInWords(chance, this.facts.assumed);
  }

  get report(): CheckReport {
    if (!this.#report) {
      const { residualMm, required, actualMm, entries, slots } = this.ledger;
      this.#report = {
        required,
        actual: { totalMm: actualMm, entries },
        residualMm: this.missing ? null : residualMm,
        verdict: this.verdict,
        slots,
        dial: dialAnswer(this.train, this.ledger),
        uncertainty: this.uncertainty,
        problems: this.findings.filter(({ code, level }) => code !== 'length' && level !== 'passed').map(reported),
        light: this.facts.light?.report ?? null,
        guide: this.facts.guide?.report ?? null,
        load: this.facts.load.report,
        focus: this.facts.focus?.report ?? null
      };
    }
    return this.#report;
  }
}

const MISSING_WORDS: Readonly<Record<Missing, string>> = {
  'back-focus': 'Back focus not known',
  length: 'Length not known',
  filling: 'Length not known: a gap is still empty'
};

/** A finding as it is printed. */
export const reported = (finding: Finding): ReportedProblem => ({
  severity: finding.level === 'error' ? 'error' : 'warning',
  code: finding.code,
  at: placeId(finding.place),
  message: finding.say('mm')
});

/** @param train a valid document, as {@link readTrain} hands it over */
export const assess = (train: Train): Assessment => new Assessment(train);

/** The report alone. */
export const checkTrain = (train: Train): CheckReport => assess(train).report;

/** Validates, then checks: for callers that hold JSON of unknown origin. */
export function checkDocument(candidate: unknown): Reading<CheckReport> {
  const reading = readTrain(candidate);
  return reading.ok ? { ok: true, document: checkTrain(reading.document) } : reading;
}
