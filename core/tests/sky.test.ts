import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  angleAlong,
  boxOf,
  galacticLatitude,
  halfTurn,
  mosaicOf,
  onTangentPlane,
  panelsFor,
  starsIn,
  starsPerSquareDegree,
  turnBetween
} from '../src/sky/index.ts';
import { fieldOfView } from '../src/light/index.ts';

const RAD = Math.PI / 180;

describe('places on the sky', () => {
  it('have the galactic latitudes that catalogues print', () => {
    // Galactic coordinates as the NASA/IPAC Extragalactic Database prints them (from memory): M31, M87; the centre of the
    // Galaxy, Sgr A*, at −0.046°.
    expect(galacticLatitude({ raDeg: 10.6847, decDeg: 41.269 })).toBeCloseTo(-21.57, 2);
    expect(galacticLatitude({ raDeg: 187.7059, decDeg: 12.3911 })).toBeCloseTo(74.49, 2);
    expect(galacticLatitude({ raDeg: 266.4168, decDeg: -29.0078 })).toBeCloseTo(-0.046, 2);
  });

  it('fall on a tangent plane at the tangent of their distance, north up and east to the east', () => {
    const deg = (most: number) => fc.double({ min: -most, max: most, noNaN: true });
    fc.assert(
      fc.property(deg(180), deg(80), deg(5), deg(5), (ra, dec, east, north) => {
        const centre = { raDeg: ra, decDeg: dec };
        const place = { raDeg: ra + east, decDeg: Math.max(-89, Math.min(89, dec + north)) };
        const [x, y] = onTangentPlane(place, centre)!;
        // Great circle by the haversine.
        const [a, b] = [dec * RAD, place.decDeg * RAD];
        const h = Math.sin((b - a) / 2) ** 2 + Math.cos(a) * Math.cos(b) * Math.sin((east * RAD) / 2) ** 2;
        expect(Math.hypot(x, y)).toBeCloseTo(Math.tan(2 * Math.asin(Math.sqrt(h))) / RAD, 8);
        if (Math.abs(east) > 0.01) expect(Math.sign(x)).toBe(Math.sign(east));
      })
    );
    expect(onTangentPlane({ raDeg: 200, decDeg: -20 }, { raDeg: 20, decDeg: 20 })).toBeUndefined();
  });
});

describe('stars to expect', () => {
  it('come to no more than the open catalogue counts away from the plane, and to half of it at the least', () => {
    const data = createRequire(import.meta.url).resolve('d3-celestial/data/stars.8.json');
    const { features } = JSON.parse(readFileSync(data, 'utf8')) as {
      features: { properties: { mag: number }; geometry: { coordinates: [number, number] } }[];
    };
    const bright = features.filter(({ properties }) => properties.mag < 7.5);
    for (const [from, to] of [
      [25, 40],
      [40, 60],
      [60, 90]
    ] as const) {
      const counted = bright.filter(({ geometry: { coordinates } }) => {
        const b = Math.abs(galacticLatitude({ raDeg: coordinates[0], decDeg: coordinates[1] }));
        return b >= from && b < to;
      }).length;
      // Both caps between two latitudes.
      const square = ((4 * Math.PI * (Math.sin(to * RAD) - Math.sin(from * RAD))) / RAD / RAD) * 1;
      const expected = starsPerSquareDegree(7.5, (from + to) / 2) * square;
      expect(expected / counted).toBeGreaterThan(0.5);
      expect(expected / counted).toBeLessThan(1.1);
    }
  });

  it('grow with magnitude, toward the plane and with the field; chance by Poisson', () => {
    expect(starsPerSquareDegree(13, 40)).toBeGreaterThan(starsPerSquareDegree(12, 40));
    expect(starsPerSquareDegree(12, 20)).toBeGreaterThan(starsPerSquareDegree(12, 80));
    expect(starsPerSquareDegree(12, 5)).toBe(starsPerSquareDegree(12, 20));
    const { count, chance } = starsIn([0.2, 0.1], 12, 45);
    expect(count).toBeCloseTo(starsPerSquareDegree(12, 45) * 0.02, 12);
    expect(chance).toBeCloseTo(1 - Math.exp(-count), 12);
  });
});

describe('framing', () => {
  const FIELD = [1.77, 1.18] as const;

  it('has the fields of the handbook, where the Moon (31′) fits only the second', () => {
    // Handbook §5, calculations: 17.7 × 13.4 mm at 2032 and 1422 mm.
    const field = (mm: number) => [fieldOfView(17.7, mm) * 60, fieldOfView(13.4, mm) * 60];
    expect(field(2032)).toEqual([expect.closeTo(29.9, 1), expect.closeTo(22.7, 1)]);
    expect(field(1422)).toEqual([expect.closeTo(42.8, 1), expect.closeTo(32.4, 1)]);
  });

  it('lays the long side, or a diagonal, along the object', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 180, noNaN: true }),
        fc.double({ min: -90, max: 90, noNaN: true }),
        fc.boolean(),
        (objectDeg, standsDeg, isTall) => {
          const field = isTall ? ([FIELD[1], FIELD[0]] as const) : FIELD;
          // Directions on the sky of the sensor's right side and top: with its top at north, its right side is west.
          const direction = (top: number, x: number, y: number): number => halfTurn(top - Math.atan2(x, y) / RAD);
          const side = angleAlong('side', objectDeg, field);
          expect(Math.abs(halfTurn(direction(side, isTall ? 0 : 1, isTall ? 1 : 0) - objectDeg))).toBeLessThan(1e-6);
          const top = angleAlong('diagonal', objectDeg, field, standsDeg);
          const off = [1, -1].map((x) => Math.abs(halfTurn(direction(top, x * field[0], field[1]) - objectDeg)));
          expect(Math.min(...off)).toBeLessThan(1e-6);
          // No other diagonal takes a smaller turn.
          for (const x of [1, -1]) {
            const other = objectDeg + Math.atan2(x * field[0], field[1]) / RAD;
            expect(Math.abs(turnBetween(standsDeg, top))).toBeLessThanOrEqual(
              Math.abs(turnBetween(standsDeg, other)) + 1e-6
            );
          }
        }
      )
    );
  });

  it('boxes a turned ellipse as walking round its edge does', () => {
    const angle = fc.double({ min: -180, max: 180, noNaN: true });
    fc.assert(
      fc.property(
        fc.double({ min: 0.1, max: 3, noNaN: true }),
        fc.double({ min: 0.1, max: 3, noNaN: true }),
        angle,
        angle,
        (a, b, objectDeg, topDeg) => {
          let [right, up] = [0, 0];
          for (let step = 0; step < 3600; step++) {
            const [u, v] = [(a / 2) * Math.cos(step / 572.96), (b / 2) * Math.sin(step / 572.96)];
            // East and north of the point, then along the sensor's top and right.
            const [p, t] = [objectDeg * RAD, topDeg * RAD];
            const east = u * Math.sin(p) + v * Math.cos(p);
            const north = u * Math.cos(p) - v * Math.sin(p);
            up = Math.max(up, east * Math.sin(t) + north * Math.cos(t));
            right = Math.max(right, -east * Math.cos(t) + north * Math.sin(t));
          }
          const [width, height] = boxOf(a, b, objectDeg, topDeg);
          expect(width).toBeCloseTo(2 * right, 4);
          expect(height).toBeCloseTo(2 * up, 4);
        }
      ),
      { numRuns: 30 }
    );
  });

  it('covers what it is asked to with the fewest panels, which overlap as they should', () => {
    const size = fc.double({ min: 0.1, max: 8, noNaN: true });
    fc.assert(
      fc.property(size, size, fc.double({ min: 0, max: 0.5, noNaN: true }), (width, height, overlap) => {
        const [columns, rows] = panelsFor([width, height], FIELD, overlap);
        const { coversDeg, centresDeg } = mosaicOf(FIELD, columns, rows, overlap, 15);
        expect(coversDeg[0]).toBeGreaterThanOrEqual(Math.min(width, coversDeg[0] + 1) - 1e-9);
        expect(centresDeg).toHaveLength(columns * rows);
        if (columns > 1) {
          expect(mosaicOf(FIELD, columns - 1, rows, overlap, 15).coversDeg[0]).toBeLessThan(width);
          expect(FIELD[0] - (centresDeg[1]![0] - centresDeg[0]![0])).toBeCloseTo(overlap * FIELD[0], 9);
        }
        const far = Math.max(...centresDeg.map(([x]) => x)) + FIELD[0] / 2;
        expect(2 * far).toBeCloseTo(coversDeg[0], 9);
      })
    );
    // Handbook §5: 12 × 15 minutes are 3 hours.
    expect(mosaicOf(FIELD, 4, 3, 0.1, 15).minutes / 60).toBe(3);
  });
});
