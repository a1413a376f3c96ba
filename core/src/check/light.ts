import { SAME_SHARE, type Light } from '../light/light.ts';
import type { Opening } from '../light/openings.ts';
import { HOST, glassOf, isBody, isSolid, nameOf, type Train } from '../train/model.ts';
import type { Facts } from './facts.ts';
import { mm, percent } from '../why/quantity.ts';
import type { Ledger } from '../length/ledger.ts';
import { capitalised, formatLength, type LengthUnit } from '../why/wording.ts';
import { atElement, type Check, type Finding, type Place, type Proposal } from './finding.ts';
import { onceFilled } from './onceFilled.ts';
import { pupilAside } from '../light/pupilWords.ts';
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

/** A length across the beam: a tenth of a millimetre is plenty. */
const across = (mm: number, unit: LengthUnit): string => formatLength(mm, unit, unit === 'mm' ? 1 : 3);

/** What could be done about the filter that takes the light. */
function wayOut({ filter }: Light, unit: LengthUnit): string {
  if (!filter) return '';
  const { smallestClearMm, farthestZMm } = filter;
  const nearer =
    farthestZMm === null || farthestZMm <= 0
      ? ''
      : `, or this one no farther than ${across(farthestZMm, unit)} before the sensor`;
  return ` A filter of ${across(smallestClearMm, unit)} clear would do${nearer}.`;
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

/** An opening that stands off the axis, where that is what takes the light: moved onto it, the corners get enough. */
function decentred(train: Train, light: Light, opening: Opening | undefined): Pick<Finding, 'say'> | undefined {
  const [x, y] = opening?.decentreMm ?? [0, 0];
  const offMm = Math.hypot(x, y);
  if (!opening || offMm === 0) return undefined;
  const centred = light.cornerCentred(opening);
  if (centred < light.wanted - SAME_SHARE && centred - light.corner < LEAST_CENTRING) return undefined;
  const named = openingInWords(train, opening);
  return {
    say: (unit) =>
      `One corner is dark: ${inPercent(light.corner)} of the light, at least ${inPercent(light.wanted)} wanted. ${capitalised(named)} is ${across(offMm, unit)} off the axis; centred, the corner gets ${inPercent(centred)}.`
  };
}

/** Light that centring has to bring back to be named as the cause, where it does not bring all, share. */
const LEAST_CENTRING = 0.1;

function cornerFinding(train: Train, light: Light, guide: Guide | undefined): Finding {
  const { corner, wanted, openings, brightest } = light;
  const figure = percent(corner);
  const limit = percent(wanted);
  const common = { code: 'corner-light', title: 'Corner light', figure, limit, why: 'light.corner' } as const;
  const darkest = Math.min(corner, light.cornerRange[0]);
  const isEnough = (share: number): boolean => share >= wanted - SAME_SHARE;
  const worst = light.reportedOpenings[0];
  if (isEnough(darkest) || !worst) {
    return {
      ...common,
      level: 'passed',
      place: atElement(train.elements.at(-1)!.id),
      say: (unit) =>
        [
          `The corners of the sensor get ${inPercent(corner)} of the light`,
          light.isPartlyKnown ? ', as far as openings are stated' : '',
          pupilAside(light, unit),
          '.'
        ].join('')
    };
  }
  const opening = openings.find(({ at, what, slot }) => at === worst.at && what === worst.what && slot === worst.slot);
  const named = openingInWords(train, opening ?? { at: worst.at, what: worst.what });
  if (isEnough(brightest)) {
    const shares = [darkest, brightest].map(inPercent).join(' to ');
    return {
      ...common,
      level: 'assumed',
      place: placeOf(worst.at),
      badness: wanted - corner,
      say: (unit) =>
        `Corner light ${shares}, at least ${inPercent(wanted)} wanted: it depends on the exit pupil${pupilAside(light, unit)}. State it; ${named} takes most.`
    };
  }
  const shown = light.hostPupil.rangeMm ? `at most ${inPercent(brightest)}` : inPercent(corner);
  return {
    ...common,
    level: 'warning',
    place: placeOf(worst.at),
    badness: wanted - corner,
    proposals: (parts) => cornerProposals(train, light, guide, parts),
    say:
      decentred(train, light, opening)?.say ??
      ((unit) =>
        `Corner light ${shown}, at least ${inPercent(wanted)} wanted${pupilAside(light, unit)}. ${capitalised(named)} takes most: ${across(worst.clearMm, unit)} clear, ${across(worst.neededMm, unit)} needed there.${worst.what === 'filter' ? wayOut(light, unit) : ''}`)
  };
}

/** Filters of which only a format is stated: how much of it is clear is not known, and they take no light. */
function clearUnknown(train: Train, { ledger }: Facts): Finding[] {
  return train.elements.flatMap((element): Finding[] => {
    const holder = isBody(element) ? element.holder?.format : undefined;
    if (isSolid(element) && element.clearMm !== undefined) return [];
    const plates = glassOf(element) ?? [];
    const silent = plates.flatMap(({ slot, thicknessMm, clearMm, format, role }, index) =>
      thicknessMm > 0 &&
      clearMm === undefined &&
      role !== 'window' &&
      (format ?? holder) !== undefined &&
      (slot === undefined || slot === ledger.designSlots.get(element.id))
        ? [{ index, format: (format ?? holder)! }]
        : []
    );
    const empty = plates.length === 0 && holder !== undefined;
    if (silent.length === 0 && !empty) return [];
    const format = silent[0]?.format ?? holder!;
    return [
      {
        code: 'clear-unknown',
        title: `Opening of ${element.name}`,
        level: 'not-known',
        place: empty ? atElement(element.id) : { kind: 'plate', id: element.id, index: silent[0]!.index },
        fill: empty ? ['clearMm'] : ['glass'],
        say: () =>
          `Light through ${element.name} not known: its format, ${format}, has no clear aperture. State the clear aperture${empty ? '' : ' of its filters'}.`
      }
    ];
  });
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
      say: (unit) => `The sensor is inside the image circle of ${nameOf(train, datum.id)}, ${across(circleMm, unit)}.`
    };
  }
  return {
    ...found,
    level: 'warning',
    place: placeOf(datum.id),
    badness: diagonalMm - circleMm,
    say: (unit) =>
      `The sensor is ${across(diagonalMm, unit)} across, and ${nameOf(train, datum.id)} draws sharp stars within ${across(circleMm, unit)}: expect long stars in the corners whatever the spacing.`
  };
}

/** Another ratio than the label's, by so much, changes scale and exposure enough to be told (common practice, no source). */
const OTHER_RATIO = 0.01;

/** How much light reaches the corners, and what takes it (handbook §5). */
export const lightCheck: Check = {
  id: 'light',
  title: 'Light',
  codes: ['corner-light', 'light-unknown', 'clear-unknown', 'reduction', 'image-circle'],
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
    const found = [cornerFinding(train, light, guide), ...clearUnknown(train, facts)];
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
