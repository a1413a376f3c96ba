import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readDrawerText, type Part } from '../src/drawer/index.ts';
import { filledTrain, findStacks, obstaclesOf, ringFor } from '../src/finder/index.ts';
import { CHECKS, assess, checkup, remediesOf, type Finding } from '../src/check/index.ts';
import { apply, readTrainText, type Train } from '../src/train/index.ts';
import { fullDiameter } from '../src/light/index.ts';
import { drawer, female, male } from './drawer.ts';
import { names } from './gaps.ts';
import { camera, corrector, part, train } from './trains.ts';

const FULL_FRAME = { widthMm: 36, heightMm: 24, pixelUm: 3.76 };

/** A corrector that asks for 55, a gap, a full-frame camera of 17.5, at f/4; M68 all through. */
const wideField = (more: Partial<Train> = {}): Train => ({
  ...train([
    corrector({ backFocusMm: 55, magnification: 1 }, { camera: male('M68x1') }),
    { id: 'gap', kind: 'gap', name: 'gap' },
    camera(17.5, { sky: female('M68x1') as never, sensor: FULL_FRAME })
  ]),
  host: {
    name: 'h',
    kind: 'other',
    apertureMm: 200,
    focalLengthMm: 800,
    camera: { slip: '2in', gender: 'female' }
  } as Train['host'],
  ...more
});

const bored = (partId: string, lengthMm: number, clearMm: number): Part =>
  drawer({ partId, lengthMm, clearMm, sky: female('M68x1'), camera: male('M68x1') })[0]!;

const cornerOf = (of: Train): number => assess(of).facts.light!.corner;

describe('the finder sees the beam', () => {
  it('takes a wide ring before a narrow one that is just as long', () => {
    const parts = [bored('narrow', 37.5, 30), bored('wide', 37.5, 58)];
    const inside = (cornerLight?: number, from = parts): string[] =>
      findStacks(wideField(), { unit: 'mm', parts: from, cornerLight, prefer: 'fewest' }).solutions.flatMap(
        (each) => names(each)[0]!
      );
    expect(findStacks(wideField(), { unit: 'mm', parts }).leastCornerLight).toBeCloseTo(0.9, 9);
    expect(inside()).toEqual(['wide']);
    // 0 asks for nothing: two of a kind, the first of the drawer.
    expect(inside(0)).toEqual(['narrow']);
    // Of two that are too narrow the wider is the lesser evil.
    expect(inside(undefined, [bored('narrow', 37.5, 30), bored('middling', 37.5, 52)])).toEqual(['middling']);
  });

  it('finds, of the stacks that leave the corners enough, the closest: as trying all of them does', () => {
    const rings = fc.array(fc.tuple(fc.integer({ min: 20, max: 250 }), fc.integer({ min: 360, max: 540 })), {
      minLength: 2,
      maxLength: 6
    });
    fc.assert(
      fc.property(rings, fc.constantFrom(0.5, 0.8, 0.95), (made, cornerLight) => {
        const parts = made.map(([tenths, clear], at) => bored(`R${at}`, tenths / 10, clear / 10));
        const open = wideField();
        const found = findStacks(open, { unit: 'mm', parts, cornerLight, maxPieces: 3, limit: 50 });
        const least = found.leastCornerLight! - 0.005;
        const bright = found.solutions.filter((each) => each.cornerLight! >= least - 1e-9);
        for (const each of bright) expect(cornerOf(filledTrain(open, each))).toBeGreaterThanOrEqual(least - 1e-9);
        // Within tolerance comes before bright, bright before dark (handbook §4).
        const rank = found.solutions.map((each) => (each.inTolerance ? 0 : 2) + (bright.includes(each) ? 0 : 1));
        expect(rank).toEqual(rank.toSorted((a, b) => a - b));
        // Every order of up to three rings.
        let closest = Infinity;
        const grow = (used: readonly Part[]): void => {
          const elements = used.map((each, at) => ({ ...each.element, id: `p${at}` }));
          const filled = { ...open, elements: [open.elements[0]!, ...elements, open.elements[2]!] } as Train;
          const off = Math.abs(assess(filled).ledger.residualMm!);
          if (off < closest && cornerOf(filled) >= least) closest = off;
          if (used.length < 3) for (const each of parts) if (!used.includes(each)) grow([...used, each]);
        };
        grow([]);
        const inside = closest <= 0.1;
        if (inside) expect(Math.abs(bright[0]!.residualMm!)).toBeCloseTo(closest, 6);
        else expect(bright.some((each) => each.inTolerance)).toBe(false);
      }),
      { numRuns: 40 }
    );
  });

  it('says what each dark stack costs, and which thread would do, where nothing is wide enough', () => {
    const parts = [bored('narrow', 37.5, 34)];
    const { solutions } = findStacks(wideField(), { unit: 'mm', parts, prefer: 'fewest' });
    expect(solutions.map(names)).toEqual([[['narrow']]]);
    expect(solutions[0]!.cornerLight).toBeLessThan(0.2);
    expect(solutions[0]!.warnings.map(({ code }) => code)).toContain('corner-light');
    const [obstacle] = obstaclesOf(wideField(), parts, 'mm');
    // 2 · 21.63 + 55 / 4 at the sky end of the gap: 57.0 mm, and of usual threads M63 is the first so wide.
    expect(fullDiameter({ fRatio: 4, pupilMm: Infinity }, Math.hypot(36, 24) / 2, 55)).toBeCloseTo(57.02, 2);
    expect(obstacle).toMatchObject({ code: 'too-narrow', at: 'gap' });
    expect(obstacle!.message).toContain('57.0 mm takes nothing, which M63×1 and wider leave');
  });

  it('tells a workshop the bore that the light needs', () => {
    const made = ringFor(wideField(), 'gap', { unit: 'mm', parts: [] })!;
    expect(made.spec.neededMm).toBeCloseTo(57, 1);
    expect(made.words).toContain('64.4 mm clear aperture (57.0 mm is needed for the light)');
    const narrow = wideField();
    const faces = { sky: female('M48x0.75'), camera: male('M48x0.75') };
    Object.assign(narrow.elements[0]!, { camera: faces.camera });
    Object.assign(narrow.elements[2]!, { sky: faces.sky });
    expect(ringFor(narrow, 'gap', { unit: 'mm', parts: [], cornerLight: 0.9 })!.words).toContain(
      ': these threads leave less)'
    );
  });

  it('puts rings behind the guider as far as its guide camera reaches', () => {
    const asked = train([
      corrector({ backFocusMm: 70, magnification: 1 }, { camera: male('M68x1') }),
      { id: 'sky-gap', kind: 'gap', name: 'sky gap' },
      part('guider', 16, {
        kind: 'off-axis-guider',
        sky: female('M68x1') as never,
        camera: male('M68x1') as never,
        pickoff: {
          fromSkyMm: 4,
          sideMm: 8,
          mirror: true,
          innerEdgeMm: 16,
          guideFocus: { minMm: 30, maxMm: 34 },
          guideCamera: { flangeMm: 17.5 }
        }
      }),
      { id: 'gap', kind: 'gap', name: 'gap' },
      camera(17.5, { sky: female('M68x1') as never })
    ]);
    const parts = [bored('long', 26.5, 44), bored('short', 10, 44)];
    const { solutions, unmet } = findStacks(asked, { unit: 'mm', parts });
    // The guide sensor lies as far from the mirror as the main one; its shoulder 17.5 nearer, and 20 from the axis.
    const at = (behindMm: number): number => 16 - 8 + behindMm + 17.5 - 17.5 + 20;
    expect([at(0), at(10), at(26.5)]).toEqual([28, 38, 54.5]);
    // Neither reaches from 30 to 34: nothing keeps to it, and that is said.
    expect(unmet[0]).toContain('guide camera on guider');
    expect(solutions[0]!.inTolerance).toBe(true);
    const five = [...parts, bored('five', 5, 44), bored('other', 31.5, 44)];
    const found = findStacks(asked, { unit: 'mm', parts: five });
    expect(found.unmet).toEqual([]);
    for (const each of found.solutions.filter(({ inTolerance }) => inTolerance)) {
      expect(assess(filledTrain(asked, each)).report.guide!.verdict).toBe('reaches');
    }
    expect(names(found.solutions[0]!)[1]).toEqual(['five']);
  });
});

const read = (file: string): Train => {
  const reading = readTrainText(readFileSync(new URL(`../../demo/${file}`, import.meta.url), 'utf8'));
  if (!reading.ok) throw new Error(reading.complaints[0]?.message);
  return reading.document;
};

const demoDrawer = (): Part[] => {
  const reading = readDrawerText(readFileSync(new URL('../../demo/drawer.json', import.meta.url), 'utf8'));
  if (!reading.ok) throw new Error(reading.complaints[0]?.message);
  return reading.document;
};

describe('what mends light and guiding', () => {
  const found = (of: Train, code: string): Finding => assess(of).findings.find((each) => each.code === code)!;

  it('clears Long Tom with parts of its drawer', () => {
    const longTom = read('long-tom.json');
    const before = assess(longTom);
    expect(before.report.light!.illumination.corner).toBeLessThan(0.6);
    expect(before.report.guide).toMatchObject({ verdict: 'short' });
    expect(before.report.guide!.missMm).toBeCloseTo(7.73, 2);
    const [wheel] = remediesOf(before, found(longTom, 'corner-light'), demoDrawer());
    expect(wheel).toMatchObject({ cures: true });
    const wider = apply(longTom, wheel!.operation);
    const [tube] = remediesOf(assess(wider), found(wider, 'guide-focus'), demoDrawer());
    expect(tube!.action('mm')).toBe('Add R-28, 15.00 mm');
    const after = assess(apply(wider, tube!.operation));
    expect(after.report.light!.illumination.corner).toBeGreaterThan(0.9);
    expect(after.report.guide).toMatchObject({ verdict: 'reaches', missMm: 0, rangeMm: [51, 67] });
    expect(after.isGood).toBe(true);
    // The ring is tied up now: it is not offered for another place.
    const again = remediesOf(
      assess(wider),
      found(wider, 'guide-focus'),
      demoDrawer().filter(({ partId }) => partId !== 'R-28')
    );
    expect(again.map((each) => each.action('mm')).join()).not.toContain('R-28');
  });

  it('counts copies: what stands in the train already is not there twice', () => {
    const longTom = read('long-tom.json');
    const { atMm } = assess(longTom).report.guide!;
    // Ten millimetres are wanted, and there are two rings of five.
    const focus = { minMm: atMm! - 10.4, maxMm: atMm! - 9.6 };
    const near = apply(longTom, { op: 'set', at: 'guider', path: ['pickoff', 'guideFocus'], to: focus });
    const fives = demoDrawer().filter(({ partId }) => partId === 'R-26');
    const offered = (of: Train) =>
      remediesOf(assess(of), found(of, 'guide-focus'), fives).map((each) => each.action('mm'));
    expect(offered(near)).toEqual(['Add R-26 and R-26, 10.00 mm']);
    expect(offered(apply(near, { op: 'set', at: 'ring-a', path: ['partId'], to: 'R-26' }))).toEqual([]);
  });

  it('offers no tube where it is not said what the guide camera screws to, and says so', () => {
    const longTom = read('long-tom.json');
    const unsaid = apply(longTom, { op: 'set', at: 'guider', path: ['pickoff', 'guidePort'], to: undefined });
    const finding = found(unsaid, 'guide-focus');
    expect(finding.say('mm')).toContain('describe the guide camera’s face');
    expect(remediesOf(assess(unsaid), finding, demoDrawer())).toEqual([]);
  });

  it('draws a prism out, or turns it over the long side', () => {
    const deep = apply(read('long-tom.json'), {
      op: 'batch',
      operations: [
        { op: 'set', at: 'guider', path: ['pickoff', 'innerEdgeMm'], to: 12 },
        { op: 'set', at: 'guider', path: ['pickoff', 'atDeg'], to: 0 }
      ]
    });
    const finding = found(deep, 'guide-shadow');
    const remedies = remediesOf(assess(deep), finding);
    expect(remedies.map((each) => each.action('mm'))).toEqual(['Draw it out to 23.0 mm', 'Turn it over the long side']);
    expect(remedies[0]!.cures).toBe(true);
    expect(remedies[1]!.cures).toBe(false);
  });
});

describe('a check-up', () => {
  it('asks every question: what found nothing says so, worst first', () => {
    const lines = checkup(assess(read('long-tom.json')));
    expect(lines.map(({ title }) => title)).toEqual(
      expect.arrayContaining(['Corner light', 'Guide focus', 'Length', 'Joints', 'Thread engagement', 'Prism’s shadow'])
    );
    const rank = ['error', 'warning', 'not-known', 'assumed', 'passed'];
    const levels = lines.map(({ finding }) => rank.indexOf(finding.level));
    expect(levels).toEqual(levels.toSorted((a, b) => a - b));
    expect(new Set(CHECKS.map(({ title }) => title)).size).toBe(CHECKS.length);
  });

  it('repeats every finding, and none twice', () => {
    for (const file of ['heron.json', 'dormouse.json', 'long-tom.json', 'avocet.json']) {
      const assessment = assess(read(file));
      const told = checkup(assessment).map(({ finding }) => finding);
      for (const finding of assessment.findings) expect(told.filter((each) => each === finding)).toHaveLength(1);
    }
  });
});
