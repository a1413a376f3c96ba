import { nameOf, type Train } from '../train/model.ts';
import { publishedBy } from '../train/sources.ts';
import type { Explanation, ExplanationLine } from '../why/explanation.ts';
import { mm, percent } from '../why/quantity.ts';
import { formatLength } from '../why/wording.ts';
import type { Light } from './light.ts';
import { pupilRangeInWords } from './pupilWords.ts';

/** Numbers of the light that can be asked. */
export type LightSubject = `light.${'corner' | 'magnification'}`;

const said = (words: string) => (): string => words;

/** What each opening alone takes from the darkest corner; what several take together, or share, is its own line. */
function cornerExplanation(train: Train, light: Light): Explanation {
  const { corner, reportedOpenings } = light;
  const lines: ExplanationLine[] = [
    { label: 'what the pupil sends', quantity: percent(1), source: said('unobstructed, to any point of the sensor') }
  ];
  let left = 1;
  for (const { at, what, cornerLoss, clearMm, neededMm, zMm } of reportedOpenings) {
    if (cornerLoss <= 0) continue;
    left -= cornerLoss;
    lines.push({
      label: `${what} of ${nameOf(train, at)}`,
      quantity: percent(-cornerLoss),
      source: (unit) =>
        `${formatLength(clearMm, unit)} clear, ${formatLength(neededMm, unit)} needed ${formatLength(zMm, unit)} before the focus`,
      ...publishedBy(train, at, 'clear')
    });
  }
  const range = light.hostPupil.rangeMm;
  if (range) {
    const [least, most] = light.cornerRange.map((share) => (share * 100).toFixed(0));
    const shares = least === most ? `${least} %` : `${least} to ${most} %`;
    lines.push({
      label: 'exit pupil assumed',
      quantity: percent(0),
      source: (unit) => `${pupilRangeInWords(range, unit)} ahead of the host’s focus: ${shares} over that range`
    });
  }
  const shared = corner - left;
  if (Math.abs(shared) > 1e-9) {
    lines.push({
      label: 'taken by several at once',
      quantity: percent(shared),
      source: said('opening one of them alone would not bring it back')
    });
  }
  return { title: 'Light in the darkest corner', lines, combine: 'sum', result: percent(corner) };
}

function magnificationExplanation(light: Light): Explanation | undefined {
  const { magnification, distanceMm } = light;
  if (!magnification) return undefined;
  return {
    title: 'What the corrector does to the focal length',
    lines: [
      {
        label: 'published',
        quantity: { value: magnification.published, unit: '' },
        source: said('at its own back focus')
      },
      { label: 'its shoulder to the sensor', quantity: mm(distanceMm), source: said('glass not counted') }
    ],
    combine: { formula: 'thin lens: 1 − d (1 − m₀) / d₀' },
    result: { value: magnification.reckoned, unit: '' }
  };
}

/** How a number of the light came about; undefined where the train has no such number. */
export function explainLight(train: Train, light: Light | undefined, subject: LightSubject): Explanation | undefined {
  if (!light) return undefined;
  return subject === 'light.corner' ? cornerExplanation(train, light) : magnificationExplanation(light);
}
