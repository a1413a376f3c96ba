import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { ringDrawing, profileOf, writeDxf, writeStl, writeSvg } from '../src/drawing/index.ts';
import { readDrawer, type Part } from '../src/drawer/index.ts';
import { adviseOn, filledTrain, findStacks, ringFor, type FindOptions, type RingSpec } from '../src/finder/index.ts';
import { apply, readTrain, type BodyElement, type Element, type Train } from '../src/train/index.ts';
import { assess, checkTrain, nextStep } from '../src/check/index.ts';
import { mate } from '../src/joint/index.ts';
import { drawer, female, male } from './drawer.ts';
import { camera, corrector, part, train } from './trains.ts';

const demo = (name: string): unknown =>
  JSON.parse(readFileSync(new URL(`../../demo/${name}.json`, import.meta.url), 'utf8'));
const demoTrain = (name: string): Train => {
  const reading = readTrain(demo(name));
  if (!reading.ok) throw new Error(`${name} must be valid`);
  return reading.document;
};
const demoParts = (() => {
  const reading = readDrawer(demo('drawer'));
  if (!reading.ok) throw new Error('the drawer must be valid');
  return reading.document;
})();

const adviceFor = (made: Train, parts = demoParts) =>
  adviseOn(made, { unit: 'mm', parts }, findStacks(made, { unit: 'mm', parts }));

describe('the demo scenario', () => {
  it('pressing find on Heron gives a stack that is on spec', () => {
    const heron = demoTrain('heron');
    const { solutions, exhausted } = findStacks(heron, { unit: 'mm', parts: demoParts });
    expect(exhausted).toBe(true);
    expect(assess(filledTrain(heron, solutions[0]!)).isGood).toBe(true);
    expect(adviceFor(heron)).toEqual([]);
  });

  it('Dormouse is too long, and what is advised makes it good', () => {
    const dormouse = demoTrain('dormouse');
    const advice = adviceFor(dormouse);
    expect(advice.length).toBeGreaterThan(0);
    for (const { operation } of advice) expect(assess(apply(dormouse, operation)).isGood).toBe(true);
    expect(advice[0]).toMatchObject({ kind: 'exchange', gainMm: -(12.13 + 1.2) });
  });
});

describe('advice', () => {
  const nose = (asksMm: number): Train =>
    train([
      corrector({ backFocusMm: asksMm }, { camera: male('M48x0.75') }),
      { id: 'gap', kind: 'gap', name: 'gap' },
      part('nose', 11, { name: 'Nose', removable: true, sky: female('M48x0.75'), camera: male('M48x0.75') }),
      camera(6.5, { sky: female('M48x0.75') as never })
    ]);

  it('leaves a removable nose out where that is what is in the way (handbook §2: 6.5 becomes 17.5 with it)', () => {
    const parts = drawer({ partId: 'A', lengthMm: 5 });
    const [first] = adviceFor(nose(11.5), parts);
    expect(first).toMatchObject({ kind: 'leave-out', gainMm: -11 });
    expect(assess(apply(nose(11.5), first!.operation)).isGood).toBe(true);
  });

  it('has one ring made of exactly what is missing, with both ports', () => {
    const [ring] = adviceFor(nose(40), drawer({ partId: 'A', lengthMm: 5 }));
    expect(ring).toMatchObject({ kind: 'order-ring', ring: { lengthMm: 22.5 } });
    expect(mate(male('M48x0.75'), ring!.ring!.sky).joins).toBe(true);
    expect(mate(ring!.ring!.camera, female('M48x0.75')).joins).toBe(true);
    expect(checkTrain(apply(nose(40), ring!.operation)).residualMm).toBeCloseTo(0, 6);
  });

  it('takes a thinner filter holder, with the filters of the old one, and adapters where its faces want them', () => {
    const made = train([
      corrector({ backFocusMm: 40 }, { camera: male('M48x0.75') }),
      part('holder', 28.5, {
        kind: 'filter-drawer',
        name: 'Thick drawer',
        partId: 'FD-thick',
        sky: female('M48x0.75'),
        camera: male('M48x0.75'),
        glass: [{ name: 'block', thicknessMm: 3, index: 1.5 }]
      }),
      camera(17.5, { sky: female('M48x0.75') as never })
    ]);
    // 28.5 + 17.5 = 46 where 40 + 1 is asked for: 5 too long.
    const holder = { kind: 'filter-drawer', name: 'Thin drawer', lengthMm: 21.5 };
    const parts = drawer(
      { partId: 'FD-thick', kind: 'filter-drawer', name: 'Thick drawer', lengthMm: 28.5 },
      { partId: 'FD-thin', ...holder, sky: female('M48x0.75'), camera: male('M42x0.75') },
      { partId: 'FD-broken', ...holder, state: 'set-aside' },
      { partId: 'step', kind: 'adapter', lengthMm: 2, sky: female('M42x0.75'), camera: male('M48x0.75') }
    );
    const [first] = adviceFor(made, parts);
    expect(first).toMatchObject({ kind: 'exchange-holder', gainMm: -7 });
    expect(first!.message).toBe('Replace Thick drawer with FD-thin, Thin drawer (21.50 mm), and fill up with step.');
    const after = apply(made, first!.operation);
    expect(assess(after).isGood).toBe(true);
    expect(after.elements[1]).toMatchObject({ partId: 'FD-thin', glass: [{ name: 'block', thicknessMm: 3 }] });
    expect(adviceFor(made, parts.slice(0, 1)).some(({ kind }) => kind === 'exchange-holder')).toBe(false);
  });

  it('puts the filter in front of the corrector only as the last resort', () => {
    const made = train([
      corrector({ backFocusMm: 30 }, { camera: male('M48x0.75') }),
      part('holder', 12.5, {
        kind: 'filter-drawer',
        sky: female('M48x0.75'),
        camera: male('M48x0.75'),
        glass: [{ thicknessMm: 3, index: 1.5 }]
      }),
      camera(17.5, { sky: female('M48x0.75') as never })
    ]);
    const advice = adviceFor(made, []);
    expect(advice.map(({ kind }) => kind)).toEqual(['move-filter']);
    expect(advice[0]).toMatchObject({ gainMm: 1, message: expect.stringMatching(/^Last resort/) as string });
    for (const { operation } of advice) expect(assess(apply(made, operation)).isGood).toBe(true);
  });

  it('opens a joint of a train that is short and has no gap: the first joint that takes it', () => {
    const made = train([
      corrector({ backFocusMm: 55 }, { camera: male('M48x0.75') }),
      part('first', 10, { name: 'First', sky: female('M48x0.75'), camera: male('M48x0.75') }),
      part('second', 25, { name: 'Second', sky: female('M48x0.75'), camera: male('M42x0.75') }),
      camera(17.5, { sky: female('M42x0.75') as never })
    ]);
    const parts = drawer(
      { partId: 'R-07', lengthMm: 2.5 },
      { partId: 'R-42', lengthMm: 2.4, sky: female('M42x0.75'), camera: male('M42x0.75') }
    );
    const advice = adviceFor(made, parts);
    expect(advice.filter(({ kind }) => kind === 'insert').map(({ message }) => message)).toEqual([
      'Put R-07 between corrector and First.',
      'Put R-42 between Second and camera.'
    ]);
    for (const { operation } of advice) expect(assess(apply(made, operation)).isGood).toBe(true);
    // A custom spacer of 2.50 mm has no room for a 4 mm thread behind another of its width.
    expect(advice.map(({ kind }) => kind)).not.toContain('order-ring');
    // Too long: nothing is put in.
    const long = train([corrector({ backFocusMm: 20 }, { camera: male('M48x0.75') }), ...made.elements.slice(1)]);
    expect(adviceFor(long, parts).some(({ kind }) => kind === 'insert')).toBe(false);
  });

  it('is silent where a ring cannot help: too long already, a face not known', () => {
    expect(ringFor(nose(10), 'gap', { unit: 'mm', parts: [] })).toBeUndefined();
    const blind = train([corrector({ backFocusMm: 55 }), { id: 'gap', kind: 'gap', name: 'gap' }, camera(17.5)]);
    expect(ringFor(blind, 'gap', { unit: 'mm', parts: [] })).toBeUndefined();
  });
});

describe('the drawing of a ring', () => {
  const spec: RingSpec = {
    lengthMm: 7.68,
    toleranceMm: 0.02,
    sky: { thread: 'M63x1', gender: 'female', lengthMm: 4.5 },
    camera: { thread: 'M54x0.75', gender: 'male', lengthMm: 4 },
    clearMm: 49.5,
    outerMm: 70
  };

  it('says length, tolerance, both threads, both diameters and what it is made of', () => {
    const texts = ringDrawing(spec, 'Ring <7.68>').shapes.flatMap((shape) =>
      shape.kind === 'text' ? [shape.text] : []
    );
    for (const expected of [
      /7\.68 ±0\.02/,
      /M63×1 female, 4\.5 deep/,
      /M54×0\.75 male, 4 long/,
      /Ø70/,
      /Ø49\.5 clear/,
      /Aluminium/
    ]) {
      expect(
        texts.some((text) => expected.test(text)),
        String(expected)
      ).toBe(true);
    }
  });

  it('is drawn to scale: its shoulders stand apart by the length times the scale', () => {
    const { shapes } = ringDrawing(spec, 'ring');
    const dimension = shapes.filter(
      (shape) => shape.kind === 'line' && shape.style === 'dimension' && shape.y1 === shape.y2
    );
    const lengths = dimension.map((shape) => (shape.kind === 'line' ? Math.abs(shape.x2 - shape.x1) : 0));
    // 70 mm across fits A4 at full size.
    expect(lengths.some((length) => Math.abs(length - 7.68) < 1e-9)).toBe(true);
  });

  it('keeps to its sheet', () => {
    for (const lengthMm of [1, 7.68, 150]) {
      const { shapes, width, height } = ringDrawing({ ...spec, lengthMm }, 'ring');
      for (const shape of shapes) {
        const points =
          shape.kind === 'line'
            ? [
                [shape.x1, shape.y1],
                [shape.x2, shape.y2]
              ]
            : [[shape.x, shape.y]];
        for (const [x, y] of points) {
          expect(x).toBeGreaterThanOrEqual(0);
          expect(x).toBeLessThanOrEqual(width);
          expect(y).toBeGreaterThanOrEqual(0);
          expect(y).toBeLessThanOrEqual(height);
        }
      }
    }
  });

  it('SVG and DXF hold every line, and names are only names', () => {
    const drawing = ringDrawing(spec, 'Ring <script>"&');
    const lines = drawing.shapes.filter(({ kind }) => kind === 'line').length;
    const svg = writeSvg(drawing);
    expect(svg.match(/<line /g)).toHaveLength(lines);
    expect(svg).not.toContain('<script>');
    const dxf = writeDxf(drawing);
    expect(dxf.match(/\r\nLINE\r\n/g)).toHaveLength(lines);
    expect(dxf).toContain('%%c70');
    expect(dxf.endsWith('  0\r\nEOF\r\n')).toBe(true);
    // Codes and values alternate, and only ASCII is left.
    const rows = dxf.trimEnd().split('\r\n');
    expect(rows.length % 2).toBe(0);
    // eslint-disable-next-line no-control-regex
    expect(/^[\x00-\x7f]*$/.test(dxf)).toBe(true);
    expect(rows.filter((_row, index) => index % 2 === 0).every((code) => /^\s*\d+$/.test(code))).toBe(true);
  });

  it('the printed dummy is a closed solid of the right volume', () => {
    const stl = writeStl(spec, 'ring');
    const points = [...stl.matchAll(/vertex (\S+) (\S+) (\S+)/g)].map((match) => match.slice(1, 4).map(Number));
    const edges = new Map<string, number>();
    let volume = 0;
    for (let at = 0; at < points.length; at += 3) {
      const [a, b, c] = [points[at]!, points[at + 1]!, points[at + 2]!];
      for (const [from, to] of [
        [a, b],
        [b, c],
        [c, a]
      ] as const) {
        const key = `${from.join()}>${to.join()}`;
        edges.set(key, (edges.get(key) ?? 0) + 1);
      }
      volume +=
        (a[0]! * (b[1]! * c[2]! - b[2]! * c[1]!) -
          a[1]! * (b[0]! * c[2]! - b[2]! * c[0]!) +
          a[2]! * (b[0]! * c[1]! - b[1]! * c[0]!)) /
        6;
    }
    // Every edge is walked once each way: no holes.
    for (const key of edges.keys()) {
      const [from, to] = key.split('>');
      expect(edges.get(`${to}>${from}`)).toBe(edges.get(key));
    }
    // Pappus: area of the profile times the way of its centre (a calculation).
    const profile = profileOf(spec);
    let turned = 0;
    profile.forEach(([x1, r1], index) => {
      const [x2, r2] = profile[(index + 1) % profile.length]!;
      turned += (Math.PI / 3) * (x2 - x1) * (r1 * r1 + r1 * r2 + r2 * r2);
    });
    expect(Math.abs(volume)).toBeCloseTo(Math.abs(turned), -2);
    expect(volume).toBeGreaterThan(0);
  });
});

describe('what is advised where nothing fits, and where nothing has to be done', () => {
  const gap: Element = { id: 'gap', kind: 'gap', name: 'gap' };
  const m48 = { sky: female('M48x0.75'), camera: male('M48x0.75') } as Partial<BodyElement>;
  const options = (parts: Part[]): FindOptions => ({ unit: 'mm', parts, maxPieces: 4 });
  const advised = (made: Train, parts: Part[] = []) => adviseOn(made, options(parts), findStacks(made, options(parts)));

  it('a neighbour of the gap made as much longer as is missing, its faces kept (handbook §4)', () => {
    const made = train([
      corrector({ backFocusMm: 55 }, { camera: male('M48x0.75') }),
      part('adapter', 18, m48),
      gap,
      camera(30, { sky: female('M48x0.75') as never })
    ]);
    const longer = advised(made).find(({ kind }) => kind === 'longer-part')!;
    expect(longer.message).toBe('Have adapter made 7.00 mm longer: 25.00 mm with the same faces.');
    const after = assess(apply(made, longer.operation));
    expect(after.ledger.residualMm).toBeCloseTo(0, 9);
    expect(after.errors).toEqual([]);
    expect(after.train.elements.find(({ id }) => id === 'adapter')).toMatchObject({ sky: m48.sky, camera: m48.camera });
  });

  it('the lens adapter that is missing, by its two faces and its length (handbook §4)', () => {
    const bayonet = (gender: 'male' | 'female') => ({ bayonet: 'dslr-44.0', gender }) as const;
    const lens = {
      ...train([gap, camera(36.5, { sky: female('M42x0.75') as never })]),
      host: {
        name: 'lens',
        kind: 'camera-lens',
        apertureMm: 67.5,
        focalLengthMm: 135,
        camera: bayonet('female'),
        corrector: { backFocusMm: 44, toleranceMm: 0.05 }
      }
    } as Train;
    const [advice] = advised(lens).filter(({ kind }) => kind === 'lens-adapter');
    expect(advice!.message).toBe('The adapter is missing: bayonet dslr-44.0 male to M42×0.75 male 5, 7.50 mm long.');
    expect(assess(apply(lens, advice!.operation)).isGood).toBe(true);
  });

  const closed = (lengthMm: number, more: Partial<BodyElement> = {}): Train =>
    train([
      corrector({ backFocusMm: 55, toleranceMm: 0.3 }, { sky: male('M63x1', 5), camera: male('M48x0.75') }),
      part('spacer', lengthMm, { ...m48, ...more }),
      camera(17.5, { sky: female('M48x0.75') as never })
    ]);

  it('a free dial that lands nearer is offered to a train within tolerance, as the next step too', () => {
    const made = closed(37, { kind: 'variable-spacer', adjust: { minMm: 0, maxMm: 2, setMm: 0.3 } });
    const [advice] = advised(made);
    expect(advice).toMatchObject({
      kind: 'improve',
      message: 'Set spacer to 0.50 mm: exact in place of 0.20 mm short.'
    });
    const step = nextStep(assess(made), 'mm');
    expect(step.sentence).toBe('Nothing is left to do here. With spacer at 0.50 mm it is exact.');
    expect(assess(apply(made, step.operation!)).ledger.residualMm).toBeCloseTo(0, 9);
    expect(advised(closed(37, { adjust: { minMm: 0, maxMm: 2, setMm: 0.5 } }))).toEqual([]);
  });

  it('a shim that is owned, and one part for two', () => {
    const shims = drawer({ partId: 'S2', kind: 'shim', lengthMm: 0.2, clearMm: 48.5 });
    const [shim] = advised(closed(37.3), shims);
    expect(shim).toMatchObject({ kind: 'improve', message: expect.stringContaining('Put S2 between') as string });
    expect(assess(apply(closed(37.3), shim!.operation)).ledger.residualMm).toBeCloseTo(0, 9);
    const two = train([
      corrector({ backFocusMm: 55, toleranceMm: 0.3 }, { camera: male('M48x0.75') }),
      part('a', 20, m48),
      part('b', 17.5, m48),
      camera(17.5, { sky: female('M48x0.75') as never })
    ]);
    const [one] = advised(two, drawer({ partId: 'R37', lengthMm: 37.5 }));
    expect(one).toMatchObject({ kind: 'improve', message: 'Replace a and b with R37; one joint less.' });
    // Not where it would have to be bought.
    expect(advised(two, drawer({ partId: 'R37', lengthMm: 37.5, owned: false }))).toEqual([]);
  });
});
