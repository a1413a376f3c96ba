import type { Guide, GuideMissing } from '../guide/guide.ts';
import { nameOf, type Train } from '../train/model.ts';
import { mm, percent } from '../why/quantity.ts';
import { formatLength, listed } from '../why/wording.ts';
import { atElement, type Check, type Finding } from './finding.ts';

const MISSING_WORDS: Readonly<Record<GuideMissing, string>> = {
  innerEdgeMm: 'the inner edge of its prism',
  guideCamera: 'the flange distance of the guide camera',
  guideFocus: 'the range its tube can be set to'
};

/** Whether the guide camera gets to where the prism shows it the same focus. */
function focusFinding(train: Train, guide: Guide): Finding {
  const { at } = guide.stalk;
  const name = nameOf(train, at);
  const { atMm, rangeMm, verdict, missMm } = guide.report;
  const place = atElement(at);
  if (atMm === null || !rangeMm) {
    return {
      code: 'guide-unknown',
      level: 'not-known',
      place,
      say: () =>
        `Whether the guide camera on ${name} comes to focus is not known: give ${listed(guide.missing.map((each) => MISSING_WORDS[each]))}.`
    };
  }
  const common = { place, figure: mm(atMm), why: 'guide.at' } as const;
  if (verdict === 'reaches') {
    return {
      code: 'guide-focus',
      level: 'passed',
      ...common,
      say: (unit) =>
        `The guide camera on ${name} comes to focus with its shoulder ${formatLength(atMm, unit)} from the axis.`
    };
  }
  const isShort = verdict === 'short';
  return {
    code: 'guide-focus',
    level: 'warning',
    ...common,
    limit: mm(isShort ? rangeMm[1] : rangeMm[0]),
    badness: Math.abs(missMm),
    say: (unit) =>
      `The guide camera on ${name} does not come to focus: its shoulder has to stand ${formatLength(atMm, unit)} from the axis, and ${isShort ? 'farther out than' : 'no nearer than'} ${formatLength(isShort ? rangeMm[1] : rangeMm[0], unit)} it cannot ${isShort ? 'go' : 'come'}. ${isShort ? `Put a tube of ${formatLength(missMm, unit)} more between` : `Take ${formatLength(-missMm, unit)} of tube away`}.`
  };
}

/** Light that the prism takes from the main sensor. */
function shadowFinding(train: Train, guide: Guide): Finding | undefined {
  const { shadow } = guide.report;
  if (!shadow) return undefined;
  const most = Math.max(shadow.edge, shadow.corner);
  const { at } = guide.stalk;
  const name = nameOf(train, at);
  const found = { code: 'guide-shadow', place: atElement(at), figure: percent(most), why: 'guide.shadow' } as const;
  if (most < LEAST_SHADOW) {
    return { ...found, level: 'passed', say: () => `The prism of ${name} takes no light from the sensor.` };
  }
  return {
    ...found,
    level: 'warning',
    badness: most,
    say: () =>
      `The prism of ${name} takes ${(shadow.edge * 100).toFixed(0)} % of the light at the edge of the sensor it stands over and ${(shadow.corner * 100).toFixed(0)} % in a corner: draw it out, or turn it over the long side.`
  };
}

/** Shade that a flat does not show, share. */
const LEAST_SHADOW = 0.005;

/** The guide field's place in the field the corrector corrects. */
function circleFinding(train: Train, guide: Guide): Finding | undefined {
  const { inImageCircle, offAxisDeg } = guide.report;
  const { at } = guide.stalk;
  if (inImageCircle !== false || offAxisDeg === null) return undefined;
  return {
    code: 'guide-off-field',
    level: 'warning',
    place: atElement(at),
    figure: { value: offAxisDeg, unit: '°' },
    say: () =>
      `The prism of ${nameOf(train, at)} looks ${offAxisDeg.toFixed(2)}° off the axis, outside the image circle of the corrector: guide stars will be long.`
  };
}

/** The off-axis guider: the same focus for both cameras, shade, and what the prism sees (handbook §6). */
export const guideCheck: Check = {
  id: 'guide',
  stage: 'check',
  codes: ['guide-focus', 'guide-unknown', 'guide-shadow', 'guide-off-field'],
  find: ({ train, guide }) =>
    guide
      ? [focusFinding(train, guide), shadowFinding(train, guide), circleFinding(train, guide)].filter(
          (each) => each !== undefined
        )
      : []
};
