import { arcsInWords, clashesOf, freeArcs, type GuideClash, type Guide, type GuideMissing } from '../guide/guide.ts';
import { partLength, type Part } from '../drawer/part.ts';
import type { Operation } from '../train/operations.ts';
import { nameOf, type GuideTube, type Train } from '../train/model.ts';
import { mm, percent } from '../why/quantity.ts';
import { formatLength, listed } from '../why/wording.ts';
import { atElement, type Check, type Finding, type Proposal } from './finding.ts';
import { onceFilled } from './onceFilled.ts';
import { pupilAside } from '../light/pupilWords.ts';
import { partsAcross, tubesFor } from './otherParts.ts';

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
      title: 'Guide focus',
      fill: ['pickoff', guide.missing[0]!],
      level: 'not-known',
      place,
      say: () => `Guide focus on ${name} not known: state ${listed(guide.missing.map((each) => MISSING_WORDS[each]))}.`
    };
  }
  const common = { title: 'Guide focus', place, figure: mm(atMm), why: 'guide.at' } as const;
  if (verdict === 'reaches') {
    return {
      code: 'guide-focus',
      level: 'passed',
      ...common,
      say: (unit) =>
        `The guide camera on ${name} reaches focus with its shoulder ${formatLength(atMm, unit)} from the axis.`
    };
  }
  const isShort = verdict === 'short';
  return {
    code: 'guide-focus',
    level: 'warning',
    ...common,
    limit: mm(isShort ? rangeMm[1] : rangeMm[0]),
    badness: Math.abs(missMm),
    proposals: (parts) => [
      ...(isShort ? tubeProposals(guide, parts) : fewerTubes(guide)),
      ...partsAcross(train, at, isShort ? 'sky' : 'camera')
    ],
    say: (unit) =>
      `The guide camera on ${name} does not reach focus: its shoulder must be ${formatLength(atMm, unit)} from the axis, and ${isShort ? 'farther out than' : 'no nearer than'} ${formatLength(isShort ? rangeMm[1] : rangeMm[0], unit)} it cannot ${isShort ? 'go' : 'come'}. ${isShort ? `Put a tube of ${formatLength(missMm, unit)}${guide.mostTubeMm === undefined ? '' : ` to ${formatLength(guide.mostTubeMm, unit)}`} between${guide.stalk.pickoff.guidePort ? '' : ', or describe the guide camera’s face to search the drawer for one'}` : `Remove ${formatLength(-missMm, unit)} of tube`}.`
  };
}

const withTubes = ({ stalk }: Guide, tubes: readonly GuideTube[]): Operation => ({
  op: 'set',
  at: stalk.at,
  path: ['pickoff', 'tubes'],
  to: tubes.length === 0 ? undefined : tubes
});

/** Rings of the drawer between the guider and its camera. */
function tubeProposals(guide: Guide, parts: readonly Part[]): Proposal[] {
  const { guidePort, tubes = [] } = guide.stalk.pickoff;
  const { mostTubeMm, report } = guide;
  if (!guidePort || mostTubeMm === undefined) return [];
  return tubesFor(guidePort, report.missMm, mostTubeMm, parts).map((way): Proposal => {
    const names = listed(way.map(({ partId }) => partId));
    const lengthMm = way.reduce((sum, part) => sum + partLength(part), 0);
    const added = way.map((part): GuideTube => ({
      name: part.element.name,
      lengthMm: partLength(part),
      partId: part.partId
    }));
    return {
      action: (unit) => `Add ${names}, ${formatLength(lengthMm, unit)}`,
      sentence: (unit) =>
        `${names} (${listed(way.map(({ element, location }) => [element.name, location].filter(Boolean).join(', ')))}) between the guider and its camera carries it ${formatLength(lengthMm, unit)} farther out.`,
      operation: withTubes(guide, [...tubes, ...added])
    };
  });
}

/** A tube that stands before the guide camera, taken out. */
function fewerTubes(guide: Guide): Proposal[] {
  const { tubes = [] } = guide.stalk.pickoff;
  return tubes.map((tube, index): Proposal => {
    const name = tube.name ?? tube.partId ?? 'the tube';
    return {
      action: () => `Remove ${name}`,
      sentence: (unit) => `Without ${name} the guide camera comes ${formatLength(tube.lengthMm, unit)} nearer.`,
      operation: withTubes(guide, (tubes as readonly GuideTube[]).toSpliced(index, 1))
    };
  });
}

/** What can be done about a prism that shades the sensor: its stalk over the long side, the prism drawn out. */
export function shadeProposals(guide: Guide): Proposal[] {
  const { stalk, overLongSide, freeEdgeMm, atDeg } = guide;
  const { innerEdgeMm } = stalk.pickoff;
  const found: Proposal[] = [];
  if (overLongSide !== undefined && Math.abs((((atDeg - overLongSide) % 180) + 180) % 180) > 1e-9) {
    found.push({
      action: () => 'Turn it over the long side',
      sentence: () => 'With its stalk over the long side of the sensor the prism has the most room.',
      operation: { op: 'set', at: stalk.at, path: ['pickoff', 'atDeg'], to: overLongSide }
    });
  }
  if (freeEdgeMm !== undefined && innerEdgeMm !== undefined && freeEdgeMm > innerEdgeMm) {
    const toMm = Math.ceil(freeEdgeMm * 2) / 2;
    found.push({
      action: (unit) => `Draw it out to ${formatLength(toMm, unit, unit === 'mm' ? 1 : 3)}`,
      sentence: (unit) =>
        `With its inner edge ${formatLength(toMm, unit, unit === 'mm' ? 1 : 3)} from the axis the prism takes no light from the side it is over.`,
      operation: { op: 'set', at: stalk.at, path: ['pickoff', 'innerEdgeMm'], to: toMm }
    });
  }
  return found;
}

/** Light that the prism takes from the main sensor. */
function shadowFinding(train: Train, guide: Guide): Finding | undefined {
  const { shadow } = guide.report;
  if (!shadow) return undefined;
  const most = Math.max(shadow.edge, shadow.corner);
  // With an assumed pupil it is a warning only where every pupil gives it.
  const all = guide.overRange.flatMap(({ shadow: each }) => (each ? [Math.max(each.edge, each.corner)] : []));
  const [least, greatest] = [Math.min(most, ...all), Math.max(most, ...all)];
  const { at } = guide.stalk;
  const name = nameOf(train, at);
  const found = {
    code: 'guide-shadow',
    title: 'Prism’s shadow',
    place: atElement(at),
    figure: percent(most),
    why: 'guide.shadow'
  } as const;
  if (greatest < LEAST_SHADOW) {
    return { ...found, level: 'passed', say: () => `The prism of ${name} takes no light from the sensor.` };
  }
  if (least < LEAST_SHADOW) {
    return {
      ...found,
      level: 'assumed',
      badness: most,
      say: (unit) =>
        `The prism of ${name} takes up to ${(greatest * 100).toFixed(0)} % of the light of the sensor, or none: it depends on the pupil${guide.light ? pupilAside(guide.light, unit) : ''}. State it.`
    };
  }
  return {
    ...found,
    level: 'warning',
    badness: most,
    proposals: () => shadeProposals(guide),
    say: () =>
      `The prism of ${name} takes ${(shadow.edge * 100).toFixed(0)} % of the light at the edge of the sensor it is over and ${(shadow.corner * 100).toFixed(0)} % in a corner: draw it out, or turn it over the long side.`
  };
}

/** Shade that a flat does not show, share. */
const LEAST_SHADOW = 0.005;

/** The guide field's place in the field the corrector corrects. */
function circleFinding(train: Train, guide: Guide): Finding | undefined {
  const { inImageCircle, offAxisDeg } = guide.report;
  const { at } = guide.stalk;
  const { light } = guide;
  const outside = guide.overRange.filter((each) => each.report.inImageCircle === false).length;
  if (offAxisDeg === null || outside === 0) return undefined;
  const found = {
    code: 'guide-off-field',
    title: 'Guide field',
    place: atElement(at),
    figure: { value: offAxisDeg, unit: '°' }
  } as const;
  if (inImageCircle !== false || outside < guide.overRange.length) {
    return {
      ...found,
      level: 'assumed',
      say: (unit) =>
        `The prism of ${nameOf(train, at)} may look outside the image circle of the corrector: it depends on the pupil${light ? pupilAside(light, unit) : ''}. State it.`
    };
  }
  return {
    ...found,
    level: 'warning',
    say: () =>
      `The prism of ${nameOf(train, at)} looks ${offAxisDeg.toFixed(2)}° off the axis, outside the image circle of the corrector: guide stars will be long.`
  };
}

/** What stands beside the train where the guide camera stands. */
const clashFinding = (
  train: Train,
  guide: Guide,
  { name, atDeg, assumedMm }: GuideClash,
  free: string | undefined
): Finding => ({
  code: 'guide-clash',
  title: `Near the train: ${name}`,
  level: assumedMm === undefined ? 'warning' : 'assumed',
  place: atElement(guide.stalk.at),
  figure: { value: atDeg, unit: '°' },
  ...(assumedMm === undefined ? {} : { fill: ['pickoff', 'guideCamera'] }),
  say: (unit) =>
    `The guide camera of ${nameOf(train, guide.stalk.at)} is at ${atDeg.toFixed(0)}°, where ${name} is${assumedMm === undefined ? '' : `, if its body goes ${formatLength(assumedMm, unit, 0)} behind its sensor (assumed: state it)`}.${free === undefined ? '' : ` Free: ${free}.`}`
});

/** The off-axis guider: the same focus for both cameras, shade, and what the prism sees (handbook §6). */
export const guideCheck: Check = {
  id: 'guide',
  title: 'Guiding',
  codes: ['guide-focus', 'guide-unknown', 'guide-shadow', 'guide-off-field', 'guide-clash'],
  find: (facts) => {
    const { train, guide } = facts;
    if (!guide) return [];
    const found = [focusFinding(train, guide), shadowFinding(train, guide), circleFinding(train, guide)];
    const arcs = freeArcs(train, guide);
    const free = arcs && arcsInWords(arcs);
    const clashes = clashesOf(train, guide).map((clash) => clashFinding(train, guide, clash, free));
    return onceFilled(facts, [...found.filter((each) => each !== undefined), ...clashes]);
  }
};
