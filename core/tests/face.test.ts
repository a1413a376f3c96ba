import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { FILTER_FORMATS, coneAt, dustDistance, formatFor, illumination } from '../src/light/index.ts';
import { RAIL_LAYERS, faceOf, guideLayer, lightLayer, type Shape } from '../src/shape/index.ts';
import { apply, readTrainText, type Train } from '../src/train/index.ts';
import { assess } from '../src/check/index.ts';
import { arcsInWords, clashesOf, freeArcs } from '../src/guide/index.ts';
import { partIdsOf } from '../src/train/index.ts';
import { refreshedPart } from '../src/drawer/index.ts';
import { drawer, female, male } from './drawer.ts';

const read = (file: string): Train => {
  const reading = readTrainText(readFileSync(new URL(`../../demo/${file}`, import.meta.url), 'utf8'));
  if (!reading.ok) throw new Error(reading.complaints[0]?.message);
  return reading.document;
};
const longTom = read('long-tom.json');
const facts = assess(longTom).facts;
const light = facts.light!;

/** Points of an outline, straight runs only. */
const pointsOf = (shape: Shape): (readonly [number, number])[] =>
  shape.kind === 'outline' ? [shape.start, ...shape.runs.map(({ to }) => to)] : [];

describe('the light layer', () => {
  it('draws the cone to the point that is looked at as wide as the beam is, behind the corrector and ahead of it', () => {
    const heightMm = 15;
    const [cone] = lightLayer.shapes(facts, heightMm).filter(({ role }) => role === 'cone-field');
    const points = pointsOf(cone!);
    // It comes to a point on the sensor.
    const tips = points.filter(([along]) => Math.abs(along - facts.axis.sensorMm) < 1e-5);
    expect(tips).toHaveLength(2);
    for (const [, across] of tips) expect(across).toBeCloseTo(heightMm, 6);
    for (const [along] of points) {
      const across = points.filter(([other]) => other === along).map(([, at]) => at);
      const isAhead = along < -1e-9;
      const beam = isAhead ? light.ahead.beam : light.beam;
      const field = isAhead ? heightMm * light.ahead.fieldScale : heightMm;
      const { x, radius } = coneAt(beam, [field, 0], light.zOf(along, isAhead));
      expect(Math.max(...across)).toBeCloseTo(x + radius, 6);
      expect(Math.min(...across)).toBeCloseTo(x - radius, 6);
    }
    // A lens bends rays, it does not break the beam: both pieces are as wide at its shoulder.
    const [before, after] = [-1e-6, 0].map(
      (along) => coneAt(along < 0 ? light.ahead.beam : light.beam, [0, 0], light.zOf(along, along < 0)).radius
    );
    expect(before).toBeCloseTo(after!, 3);
  });

  it('comes to the sensor of a train with a gap too: it is the filled train’s, drawn where the rail has it', () => {
    const open = assess(read('heron.json')).facts;
    const [cone] = lightLayer.shapes(open, 0).filter(({ role }) => role === 'cone');
    const ends = pointsOf(cone!).filter(([along]) => Math.abs(along - open.axis.sensorMm) < 1e-5);
    expect(ends.map(([, across]) => Number(across.toFixed(6)) || 0)).toEqual([0, 0]);
    expect(open.standing.axis.sensorMm - open.axis.sensorMm).toBeCloseTo(7.681, 2);
  });

  it('says what each opening keeps from the point, and nothing of it in the middle', () => {
    expect(lightLayer.stops(facts, 0)).toEqual([]);
    const stops = lightLayer.stops(facts, light.halfDiagonalMm);
    expect(stops.map(({ words }) => words)).toContain('Luminance cuts 48 %');
    expect(stops.every(({ bad }) => bad)).toBe(true);
    const filter = light.openings.find(({ what, at }) => what === 'filter' && at === 'wheel')!;
    // Circles over each other (published formula of their lens): the whole disc less what is hidden in its middle.
    const { beam, zMm } = light.holeOf(filter);
    const { x: d, radius } = coneAt(beam, [light.halfDiagonalMm, 0], zMm);
    const R = filter.clearMm / 2;
    const lens = (r: number): number => {
      if (d + r <= R) return Math.PI * r * r;
      const [a, b] = [(d * d + r * r - R * R) / (2 * d * r), (d * d + R * R - r * r) / (2 * d * R)];
      const root = (-d + r + R) * (d + r - R) * (d - r + R) * (d + r + R);
      return r * r * Math.acos(a) + R * R * Math.acos(b) - Math.sqrt(root) / 2;
    };
    const hidden = light.obstruction * radius;
    const passed = (lens(radius) - lens(hidden)) / (Math.PI * (radius * radius - hidden * hidden));
    expect(light.takenBy(filter, light.atHeight(light.halfDiagonalMm))).toBeCloseTo(1 - passed, 3);
  });

  it('reaches no farther than it says, and no layer draws what is not a number', () => {
    for (const layer of RAIL_LAYERS) {
      for (const shape of layer.shapes(facts, 12)) {
        const numbers =
          shape.kind === 'box' ? [shape.fromMm, shape.toMm, shape.lowMm, shape.highMm] : pointsOf(shape).flat();
        expect(numbers.every(Number.isFinite)).toBe(true);
      }
    }
    const tops = guideLayer.shapes(facts, 0).flatMap((shape) => pointsOf(shape).map(([, across]) => across));
    expect(Math.max(...tops)).toBeLessThanOrEqual(guideLayer.reachMm(facts));
  });

  it('shows where the guide sensor has to be, and how far it is off', () => {
    const [stop] = guideLayer.stops(facts, 0);
    const guide = facts.guide!;
    expect(stop!.acrossMm).toBeCloseTo(guide.pointMm! + guide.requiredMm, 9);
    expect(stop!.words).toContain('7.73 mm farther out than it goes');
  });
});

describe('the face', () => {
  it('has every opening behind the corrector, the prism over the long side, and lies within its ring', () => {
    const face = faceOf(facts)!;
    expect(face.openings.map(({ at }) => at)).toEqual(expect.arrayContaining(['wheel', 'camera', 'ao', 'guider']));
    expect(face.openings.find(({ what }) => what === 'filter')!.clearMm).toBe(60);
    expect(face.openings.filter(({ cuts }) => cuts).map(({ words }) => words)).toContain('Luminance');
    // Farthest first.
    const z = face.openings.map(({ zMm }) => zMm);
    expect(z).toEqual(z.toSorted((a, b) => b - a));
    expect(face.prism).toMatchObject({ at: 'guider', atDeg: 90, shades: false, innerEdgeMm: 23 });
    for (const { clearMm } of face.openings) expect(clearMm / 2).toBeLessThan(face.radiusMm);
  });

  it('is nothing where the sensor is not described', () => {
    const blind = apply(longTom, { op: 'set', at: 'camera', path: ['sensor'], to: undefined });
    expect(faceOf(assess(blind).facts)).toBeUndefined();
    for (const layer of RAIL_LAYERS) expect(() => layer.shapes(assess(blind).facts, 5)).not.toThrow();
  });
});

describe('what the light would be', () => {
  const corner = (optics: Parameters<typeof illumination>[1]): number => illumination(light.darkestCorner().at, optics);

  it('with another filter is what a train with that filter has', () => {
    for (const { clearMm, shape } of FILTER_FORMATS) {
      const glass = (longTom.elements.find(({ id }) => id === 'wheel') as { glass: object[] }).glass.map((plate) =>
        (plate as { thicknessMm: number }).thicknessMm > 0 ? { ...plate, clearMm, shape } : plate
      );
      const other = apply(longTom, { op: 'set', at: 'wheel', path: ['glass'], to: glass });
      const expected = assess(other).facts.light!.corner;
      expect(corner(light.compared({ by: 'format', clearMm, shape })!)).toBeCloseTo(expected, 9);
    }
  });

  it('is more with the filter nearer the sensor, and with each wider format of a shape', () => {
    const shares = [-20, -10, 0, 10].map((byMm) => corner(light.compared({ by: 'distance', byMm })!));
    expect(shares).toEqual(shares.toSorted((a, b) => b - a));
    expect(shares[2]).toBeCloseTo(light.corner, 9);
  });

  it('without the corrector is that of the host alone', () => {
    const { holes } = light.compared({ by: 'corrector' })!;
    expect(holes.every(({ beam }) => beam.fRatio === light.ahead.beam.fRatio)).toBe(true);
    const heron = read('heron.json');
    const plain = apply(heron, {
      op: 'set',
      at: heron.elements[0]!.id,
      path: ['corrector', 'magnification'],
      to: undefined
    });
    expect(assess(plain).facts.light!.compared({ by: 'corrector' })).toBeUndefined();
  });

  it('is told for each slot, and the format that would do by its usual clear size', () => {
    expect(light.slots.map(({ slot, clearMm }) => [slot, clearMm])).toEqual([
      [1, 44],
      [2, 44],
      [3, 44],
      [4, 44]
    ]);
    for (const { corner: share } of light.slots) expect(share).toBeCloseTo(light.corner, 9);
    // Handbook §5: 1.25″ mounted about 26 mm clear, 2″ mounted about 46.
    expect(formatFor(25.9)!.name).toBe('1.25″ mounted');
    expect(formatFor(35)!.name).toBe('2″ mounted');
    expect(formatFor(60)).toBeUndefined();
  });

  it('names the surface that a shadow on a flat belongs to, and back', () => {
    const { surfaces } = light;
    expect(surfaces[0]!.words).toContain('window in Harnwick mono');
    expect(surfaces.at(-1)!.words).toBe('last surface of Harnwick 0.72× reducer');
    for (const { zMm, shadowPx } of surfaces) {
      expect(dustDistance(shadowPx, light.sensor.pixelUm, light.beam.fRatio)).toBeCloseTo(zMm, 9);
    }
    const z = surfaces.map(({ zMm }) => zMm);
    expect(z).toEqual(z.toSorted((a, b) => a - b));
  });
});

describe('the image circle', () => {
  it('is held against the diagonal of the sensor, 43.27 mm for 36 × 24', () => {
    const found = (imageCircleMm: number) =>
      assess(
        apply(longTom, { op: 'set', at: 'reducer', path: ['corrector', 'imageCircleMm'], to: imageCircleMm })
      ).findings.find(({ code }) => code === 'image-circle')!;
    expect(found(43.2)).toMatchObject({ level: 'warning', limit: { value: 43.2 } });
    expect(found(43.2).figure!.value).toBeCloseTo(43.27, 2);
    expect(found(43.3).level).toBe('passed');
    expect(facts.light && assess(longTom).findings.some(({ code }) => code === 'image-circle')).toBe(false);
  });
});

describe('what stands beside the train', () => {
  const beside = (atDeg: number, fromAxisMm = 60): Train =>
    apply(longTom, {
      op: 'set',
      at: 'host',
      path: ['neighbours'],
      to: [{ name: 'Focus motor', atDeg, widthDeg: 40, fromAxisMm }]
    });

  it('leaves arcs free, which are those where nothing is met', () => {
    const things = fc.array(
      fc.record({
        atDeg: fc.integer({ min: -360, max: 360 }),
        widthDeg: fc.integer({ min: 1, max: 120 }),
        fromAxisMm: fc.constantFrom(30, 60, 500)
      }),
      { maxLength: 5 }
    );
    fc.assert(
      fc.property(things, (near) => {
        const to = near.map((each, at) => ({ name: `thing ${at}`, ...each }));
        const train = apply(longTom, { op: 'set', at: 'host', path: ['neighbours'], to });
        const guide = assess(train).facts.guide!;
        const arcs = freeArcs(train, guide)!;
        for (let deg = 0; deg < 360; deg += 5) {
          const isFree = arcs.some(([from, until]) => [deg, deg + 360].some((each) => each > from && each < until));
          const isEdge = arcs.some((arc) =>
            arc.some((end) => Math.abs(((((deg - end) % 360) + 540) % 360) - 180) < 1e-6)
          );
          if (isEdge) continue;
          expect(isFree).toBe(clashesOf(train, guide, deg - guide.atDeg).length === 0);
        }
      })
    );
    expect(arcsInWords([[350.4, 390.2]])).toBe('351° to 30°');
    expect(arcsInWords([])).toBe('nowhere');
    expect(arcsInWords([[0, 360]])).toBe('all round');
    const told = assess(beside(90)).findings.find(({ code }) => code === 'guide-clash')!;
    expect(told.say('mm')).toMatch(/where Focus motor is\. Free: 129° to 51°\.$/);
  });

  it('is met where the stalk points at it, near enough, and after the turn that brings it there', () => {
    fc.assert(
      fc.property(fc.integer({ min: -360, max: 360 }), fc.integer({ min: -180, max: 180 }), (atDeg, turnDeg) => {
        const train = beside(atDeg);
        const guide = assess(train).facts.guide!;
        const off = Math.abs(((((90 + turnDeg - atDeg) % 360) + 540) % 360) - 180);
        const half = 20 + (Math.atan2(20, 60) * 180) / Math.PI;
        expect(clashesOf(train, guide, turnDeg).length).toBe(off < half ? 1 : 0);
      })
    );
    const codes = (train: Train) => assess(train).findings.map(({ code }) => code);
    expect(codes(beside(90))).toContain('guide-clash');
    expect(codes(beside(270))).not.toContain('guide-clash');
    // Its sensor is 77 mm out; its body goes on behind it, 60 mm where nobody has said how far.
    const levelAt = (fromAxisMm: number, bodyMm?: number): string | undefined => {
      const train = beside(90, fromAxisMm);
      const guider = train.elements.find(({ id }) => id === 'guider') as BodyElement;
      const guideCamera = { ...guider.pickoff!.guideCamera!, ...(bodyMm === undefined ? {} : { bodyMm }) };
      const stated = { ...guider, pickoff: { ...guider.pickoff!, guideCamera } };
      const made = apply(train, { op: 'replace', id: 'guider', element: stated });
      return assess(made).findings.find(({ code }) => code === 'guide-clash')?.level;
    };
    expect(levelAt(76)).toBe('warning');
    expect(levelAt(80)).toBe('assumed');
    expect(levelAt(140)).toBeUndefined();
    expect(levelAt(80, 10)).toBe('warning');
    expect(levelAt(90, 10)).toBeUndefined();
  });
});

describe('tubes before a guide camera', () => {
  it('are parts of the drawer like any other, and stay with the train when the guider is brought up to date', () => {
    const tubes = [{ name: 'Ring 15', lengthMm: 15, partId: 'R-28' }];
    const train = apply(longTom, { op: 'set', at: 'guider', path: ['pickoff', 'tubes'], to: tubes });
    const guider = train.elements.find(({ id }) => id === 'guider')!;
    expect(partIdsOf(guider)).toEqual(['OAG-2', 'R-28']);
    const [part] = drawer({
      partId: 'OAG-2',
      kind: 'off-axis-guider',
      lengthMm: 18.6,
      sky: female('M68x1'),
      camera: male('M54x0.75'),
      pickoff: { fromSkyMm: 6, sideMm: 10, innerEdgeMm: 30 }
    });
    expect(refreshedPart(guider, part!)).toMatchObject({
      pickoff: { fromSkyMm: 6, innerEdgeMm: 23, tubes, guideCamera: { flangeMm: 17.5 } }
    });
  });
});
