import { SAME_SHARE, type Light } from '../light/light.ts';
import type { Opening } from '../light/openings.ts';
import { HOST, nameOf, type Train } from '../train/model.ts';
import { mm, percent } from '../why/quantity.ts';
import type { Ledger } from '../length/ledger.ts';
import { formatLength, type LengthUnit } from '../why/wording.ts';
import { atElement, type Check, type Finding, type Place, type Proposal } from './finding.ts';
import { onceFilled } from './onceFilled.ts';
import type { Guide } from '../guide/guide.ts';
import { shadeProposals } from './guide.ts';
import { partsAcross, widerParts } from './otherParts.ts';
import type { Part } from '../drawer/part.ts';

const inPercent = (share: number): string => `${(share * 100).toFixed(0)} %`;

/** What an opening is called: `the filter “Luminance” of the wheel`. */
function openingInWords(train: Train, { at, what, name }: Pick<Opening, 'at' | 'what' | 'name'>): string {
  const of = nameOf(train, at);
  switch (what) {
    case 'filter':
      return name === undefined ? `the filter in ${of}` : `${name} in ${of}`;
    case 'thread':
      return `the thread under ${of}`;
    case 'host':
      return name ?? of;
    case 'prism':
      return `the prism of ${of}`;
    case 'bore':
      return of;
  }
}

const placeOf = (at: string): Place => (at === HOST ? { kind: 'host' } : atElement(at));

/** What could be done about the filter that takes the light. */
function wayOut({ filter }: Light, unit: LengthUnit): string {
  if (!filter) return '';
  const digits = unit === 'mm' ? 1 : 3;
  return ` A filter of ${formatLength(filter.smallestClearMm, unit, digits)} clear would do, or this one no farther than ${formatLength(filter.farthestZMm, unit, digits)} before the sensor.`;
}

/** Openings of which something better is looked for, worst first. */
const MOST_OPENINGS = 3;

/** What could give the corners more light: wider parts, the filter nearer the sensor, the prism out of the way. */
function cornerProposals(train: Train, light: Light, guide: Guide | undefined, parts: readonly Part[]): Proposal[] {
  const worst = light.reportedOpenings.filter(({ cornerLoss, at }) => cornerLoss > 0 && at !== HOST);
  const found: Proposal[] = [];
  for (const { at, what } of worst.slice(0, MOST_OPENINGS)) {
    if (what === 'prism') found.push(...(guide?.stalk.at === at ? shadeProposals(guide) : []));
    else found.push(...widerParts(train, at, parts), ...(what === 'filter' ? partsAcross(train, at, 'sky') : []));
  }
  return found;
}

function cornerFinding(train: Train, light: Light, guide: Guide | undefined): Finding {
  const { corner, wanted, openings } = light;
  const figure = percent(corner);
  const limit = percent(wanted);
  const worst = corner < wanted ? light.reportedOpenings[0] : undefined;
  if (corner >= wanted - SAME_SHARE || !worst) {
    return {
      code: 'corner-light',
      title: 'Corner light',
      level: 'passed',
      place: atElement(train.elements.at(-1)!.id),
      figure,
      limit,
      why: 'light.corner',
      say: () =>
        `The corners of the sensor get ${inPercent(corner)} of the light${light.isPartlyKnown ? ', as far as openings are stated' : ''}.`
    };
  }
  const opening = openings.find(({ at, what, slot }) => at === worst.at && what === worst.what && slot === worst.slot);
  const named = openingInWords(train, opening ?? { at: worst.at, what: worst.what });
  return {
    code: 'corner-light',
    title: 'Corner light',
    level: 'warning',
    place: placeOf(worst.at),
    figure,
    limit,
    badness: wanted - corner,
    proposals: (parts) => cornerProposals(train, light, guide, parts),
    why: 'light.corner',
    say: (unit) =>
      `The darkest corner of the sensor gets ${inPercent(corner)} of the light, where ${inPercent(wanted)} is wanted. Most is taken by ${named}: ${formatLength(worst.clearMm, unit, unit === 'mm' ? 1 : 3)} clear, ${formatLength(worst.neededMm, unit, unit === 'mm' ? 1 : 3)} needed there.${worst.what === 'filter' ? wayOut(light, unit) : ''}`
  };
}

/** A sensor whose corners the corrector does not correct. */
function circleFinding(train: Train, light: Light, { datum }: Ledger): Finding | undefined {
  const circleMm = datum.corrector?.imageCircleMm;
  const diagonalMm = 2 * light.halfDiagonalMm;
  if (circleMm === undefined) return undefined;
  const found = { code: 'image-circle', title: 'Image circle', figure: mm(diagonalMm), limit: mm(circleMm) } as const;
  if (diagonalMm <= circleMm + 1e-9) {
    return {
      ...found,
      level: 'passed',
      place: placeOf(datum.id),
      say: (unit) =>
        `The sensor lies inside the image circle of ${nameOf(train, datum.id)}, ${formatLength(circleMm, unit, unit === 'mm' ? 1 : 3)}.`
    };
  }
  return {
    ...found,
    level: 'warning',
    place: placeOf(datum.id),
    badness: diagonalMm - circleMm,
    say: (unit) =>
      `The sensor is ${formatLength(diagonalMm, unit, unit === 'mm' ? 1 : 3)} across, and ${nameOf(train, datum.id)} draws sharp stars within ${formatLength(circleMm, unit, unit === 'mm' ? 1 : 3)}: expect long stars in the corners whatever the spacing.`
  };
}

/** Another ratio than the label's, by so much, changes scale and exposure enough to be told (common practice, no source). */
const OTHER_RATIO = 0.01;

/** How much light reaches the corners, and what takes it (handbook §5). */
export const lightCheck: Check = {
  id: 'light',
  title: 'Light',
  stage: 'check',
  codes: ['corner-light', 'light-unknown', 'reduction', 'image-circle'],
  find: (facts) => {
    const { train, light, ledger, guide } = facts;
    const camera = train.elements.at(-1)!;
    if (!light) {
      return [
        {
          code: 'light-unknown',
          level: 'not-known',
          place: atElement(camera.id),
          fill: ['sensor'],
          say: () =>
            `The sensor of ${camera.name} is not described, so nothing is known of the light: give its width, height and pixel size.`
        }
      ];
    }
    const found = [cornerFinding(train, light, guide)];
    const beyond = circleFinding(train, light, ledger);
    if (beyond) found.push(beyond);
    const { magnification } = light;
    // A train that is far too long or short has another ratio for as long as it is: that is told already.
    const stands = ledger.residualMm !== null && train.elements.every(({ kind }) => kind !== 'gap');
    if (magnification && stands && Math.abs(magnification.reckoned / magnification.published - 1) > OTHER_RATIO) {
      found.push({
        code: 'reduction',
        title: 'Reduction',
        level: 'warning',
        place: placeOf(ledger.datum.id),
        figure: { value: magnification.reckoned, unit: '' },
        limit: { value: magnification.published, unit: '' },
        why: 'light.magnification',
        say: () =>
          `At this spacing ${nameOf(train, ledger.datum.id)} works at about ${magnification.reckoned.toFixed(3)}×, not ${magnification.published}× (thin-lens estimate): ${light.focalLengthMm.toFixed(0)} mm at f/${light.beam.fRatio.toFixed(2)}.`
      });
    }
    return onceFilled(facts, found);
  }
};
