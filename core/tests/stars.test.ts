import { describe, expect, it } from 'vitest';
import { judgeField, readStars, type Star } from '../src/frame/index.ts';
import { adaptiveMoments, ellipseOf, halfFlux, windowedCentre } from '../src/frame/measure.ts';
import type { Stamp } from '../src/frame/stamp.ts';
import { plainFrame, sketched } from './frames.ts';

const nearest = (stars: readonly Star[], x: number, y: number): Star | undefined =>
  stars.find((star) => Math.hypot(star.x - x, star.y - y) < 1.5);
const median = (values: readonly number[]): number => [...values].sort((a, b) => a - b)[values.length >> 1]!;

describe('measuring one star (a normal distribution, whose figures are known)', () => {
  const [a, b, turn] = [2.4, 1.6, 0.6];
  const side = 61;
  const [cx, cy] = [30.3, 29.6];
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  const stamp: Stamp = {
    x0: 0,
    y0: 0,
    side,
    pixels: Float32Array.from({ length: side * side }, (_, at) => {
      const [dx, dy] = [(at % side) - cx, Math.floor(at / side) - cy];
      const [u, v] = [dx * cos + dy * sin, dy * cos - dx * sin];
      return 1000 * Math.exp(-0.5 * ((u / a) ** 2 + (v / b) ** 2));
    })
  };

  it('finds its middle to a thousandth of a pixel', () => {
    const [x, y] = windowedCentre(stamp, 31, 29, 2, 1e-4)!;
    expect(Math.hypot(x - cx, y - cy)).toBeLessThan(1e-3);
  });

  it('finds its axes and its angle', () => {
    const ellipse = ellipseOf(adaptiveMoments(stamp, cx, cy, 3)!);
    expect(ellipse.a).toBeCloseTo(a, 2);
    expect(ellipse.b).toBeCloseTo(b, 2);
    expect(ellipse.angleDeg).toBeCloseTo((turn * 180) / Math.PI, 1);
  });

  it('finds the radius of half its light: √(2 ln 2) σ of a round one', () => {
    const round: Stamp = {
      ...stamp,
      pixels: Float32Array.from({ length: side * side }, (_, at) =>
        Math.exp((-0.5 * (((at % side) - cx) ** 2 + (Math.floor(at / side) - cy) ** 2)) / 4)
      )
    };
    const light = halfFlux(round, cx, cy, 20, 3)!;
    // Values at the middles of pixels, each spread over its pixel: σ² grows by 1/12.
    expect(light.hfrPx / (Math.sqrt(4 + 1 / 12) * Math.sqrt(2 * Math.LN2))).toBeCloseTo(1, 2);
    expect(light.flux / (2 * Math.PI * 4)).toBeCloseTo(1, 3);
  });
});

describe('the stars of a frame', () => {
  const { frame, stars: truth } = sketched({
    conditions: { hotPixels: 400, cosmicRays: 20 },
    optics: { spacingErrorMm: 0.8 }
  });
  const reading = readStars(frame);

  it('are the ones that are there, where they are', () => {
    const bright = truth.filter(
      ({ x, y, flux }) => flux > 8000 && Math.min(x, y, frame.widthPx - x, frame.heightPx - y) > 8
    );
    const alone = bright.filter((one) =>
      truth.every((two) => two === one || Math.hypot(one.x - two.x, one.y - two.y) > 14)
    );
    const found = alone.map(({ x, y }) => nearest(reading.stars, x, y));
    expect(found.filter((star) => star === undefined).length).toBeLessThanOrEqual(0.02 * alone.length);
    const off = alone.flatMap(({ x, y }, at) => (found[at] ? [Math.hypot(found[at].x - x, found[at].y - y)] : []));
    expect(median(off)).toBeLessThan(0.05);
    expect(off.filter((each) => each > 0.1).length).toBeLessThan(0.03 * off.length);
    const light = alone.flatMap(({ flux }, at) => (found[at] ? [found[at].flux / flux] : []));
    expect(Math.abs(median(light) - 1)).toBeLessThan(0.03);
  });

  it('hot pixels and cosmic rays are none', () => {
    const bright = reading.stars.filter(({ snr }) => snr > 50);
    const invented = bright.filter(({ x, y }) => truth.every((star) => Math.hypot(star.x - x, star.y - y) > 2));
    expect(invented.length).toBeLessThanOrEqual(0.01 * bright.length);
    expect(reading.rejected.hot).toBeGreaterThan(100);
  });

  it('sky and noise are what was put in', () => {
    expect(Math.abs(reading.background - 900)).toBeLessThan(2);
    expect(reading.noise / Math.sqrt(400 + 9)).toBeCloseTo(1, 1);
  });

  it('two that stand close together are two', () => {
    const pair = plainFrame(400, 400, (x, y) => {
      const star = (cx: number, cy: number, light: number): number =>
        light * Math.exp(-((x - cx) ** 2 + (y - cy) ** 2) / (2 * 1.4 ** 2));
      const noise = ((x * 7919 + y * 104_729 + ((x * y) % 97) * 31) % 21) - 10;
      return 500 + noise + star(200, 200, 3000) + star(206.5, 203, 1800) + star(100, 300, 2000);
    });
    const { stars } = readStars(pair);
    expect(stars).toHaveLength(3);
    for (const [x, y] of [
      [201, 201],
      [207.5, 204],
      [101, 301]
    ] as const) {
      const star = nearest(stars, x, y)!;
      expect(Math.hypot(star.x - x, star.y - y)).toBeLessThan(0.2);
      expect(star.ellipticity).toBeLessThan(0.12);
    }
  });

  it('a star that is cut off is told and not measured by', () => {
    const { frame: full } = sketched({
      field: { count: 80, faintestAdu: 20_000, brightestAdu: 6_000_000, power: 0.3 }
    });
    const { stars } = readStars(full);
    const saturated = stars.filter((star) => star.saturated);
    expect(saturated.length).toBeGreaterThan(5);
    expect(Math.min(...saturated.map(({ flux }) => flux))).toBeGreaterThan(500_000);
    expect(judgeField(readStars(full)).used).toBeLessThanOrEqual(stars.length - saturated.length);
  });
});

describe('a colour mosaic', () => {
  it.each(['RGGB', 'GRBG'] as const)('%s: lays no grid over its stars', (mosaic) => {
    const options = { seed: 5, optics: { spacingErrorMm: 0 } };
    const grey = readStars(sketched(options).frame);
    const colour = readStars(sketched({ ...options, mosaic }).frame);
    const pairs = grey.stars
      .filter(({ snr, saturated }) => snr > 80 && !saturated)
      .flatMap((star) => {
        const other = nearest(colour.stars, star.x, star.y);
        return other ? [[star, other] as const] : [];
      });
    expect(pairs.length).toBeGreaterThan(40);
    expect(median(pairs.map(([one, two]) => Math.hypot(one.x - two.x, one.y - two.y)))).toBeLessThan(0.08);
    expect(median(pairs.map(([, two]) => two.ellipticity))).toBeLessThan(0.05);
    expect(Math.abs(median(pairs.map(([one, two]) => two.hfrPx / one.hfrPx)) - 1)).toBeLessThan(0.08);
    expect(judgeField(colour).findings.map(({ cause }) => cause)).toEqual([]);
  });
});

describe('frames without a field of stars', () => {
  it.each([
    ['black', plainFrame(600, 400, () => 0)],
    ['white', plainFrame(600, 400, () => 65_535)],
    ['a smooth slope', plainFrame(600, 400, (x, y) => 1000 + 40 * x + 30 * y)],
    ['a chequered board', plainFrame(600, 400, (x, y) => (((x >> 5) + (y >> 5)) % 2 ? 40_000 : 2000))],
    ['one pixel', plainFrame(1, 1, () => 5)],
    ['a line', plainFrame(600, 1, (x) => x)],
    [
      'a daylight picture',
      plainFrame(900, 600, (x, y) => 20_000 + 15_000 * Math.sin(x / 37) * Math.cos(y / 23) + ((x * y) % 800))
    ]
  ])('%s cannot be told, and says what to do', (_, frame) => {
    const { findings } = judgeField(readStars(frame));
    const unclear = findings.find(({ cause }) => cause === 'unclear');
    expect(unclear?.message).toMatch(/Unclear.*Take/);
  });

  it('a single star does not make a field', () => {
    const { frame } = sketched({ field: { count: 1, faintestAdu: 50_000, brightestAdu: 60_000 } });
    const judged = judgeField(readStars(frame));
    expect(judged.count).toBe(1);
    expect(judged.findings[0]!.message).toMatch(/only 1 star.*longer frames/);
  });

  it('values that are missing are sky', () => {
    const { frame, stars: truth } = sketched();
    const pixels = Float32Array.from(frame.planes[0]!);
    for (let y = 300; y < 420; y++) pixels.fill(NaN, y * frame.widthPx + 100, y * frame.widthPx + 300);
    const { stars } = readStars({ ...frame, planes: [pixels] });
    expect(stars.filter(({ x, y }) => x > 110 && x < 290 && y > 310 && y < 410)).toHaveLength(0);
    expect(stars.length).toBeGreaterThan(0.8 * truth.length);
  });
});

describe('what a fault makes of a field', () => {
  const judged = (options: Parameters<typeof sketched>[0]) => judgeField(readStars(sketched(options).frame));

  it('stretch has opposite signs on either side, whatever drifts meanwhile', () => {
    const far = judged({ optics: { spacingErrorMm: 1 }, conditions: { driftPx: 1.5, driftDirectionDeg: 30 } });
    const near = judged({ optics: { spacingErrorMm: -1 }, conditions: { driftPx: 1.5, driftDirectionDeg: 30 } });
    expect(far.radial!.corner).toBeGreaterThan(8 * far.radial!.standard);
    expect(near.radial!.corner).toBeLessThan(-4 * near.radial!.standard);
    expect(Math.abs(far.tracking!.angleDeg - 30)).toBeLessThan(8);
  });

  it('the message never says which way the spacing is off', () => {
    const { findings } = judged({ optics: { spacingErrorMm: 1 } });
    expect(findings[0]!.message).toMatch(/another spacing to learn which way/);
    expect(findings[0]!.message).not.toMatch(/too (near|far|short|long)/);
  });

  it('a picture’s rows run down: the same field upside down has the same tilt, seen as it is shown', () => {
    const { frame } = sketched({ optics: { tiltUm: 90, tiltDirectionDeg: 90, defocusUm: 60 } });
    const up = judgeField(readStars(frame));
    const down = judgeField(readStars({ ...frame, bottomUp: false }));
    expect(up.tilt!.significant && down.tilt!.significant).toBe(true);
    const apart = Math.abs(up.tilt!.directionDeg + down.tilt!.directionDeg);
    expect(Math.min(apart, 360 - apart)).toBeLessThanOrEqual(30);
  });

  it('one dark edge is something that stands in the light', () => {
    const { findings, light } = judged({
      conditions: { illumination: (x) => Math.min(1, 1 - 0.6 * (x - 1.5)) },
      field: { count: 300 }
    });
    expect(light!.darkEdge!.side).toBe('right');
    expect(findings[0]).toMatchObject({ cause: 'light' });
    expect(findings[0]!.message).toMatch(/right edge.*not the spacing/);
  });
});
