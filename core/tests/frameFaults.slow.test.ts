import { describe, expect, it } from 'vitest';
import { judgeField, readStars } from '../src/frame/index.ts';
import { shaded, sketched, type Sketch } from './frames.ts';

const causes = (sketch: Sketch): string[] =>
  judgeField(readStars(sketched(sketch).frame)).findings.map(({ cause }) => cause);

/** Faults of sensible strength, weaker and stronger ones in turn. */
const FAULTS: readonly (readonly [string, (seed: number) => Pick<Sketch, 'optics' | 'conditions'>])[] = [
  ['spacing', (n) => ({ optics: { spacingErrorMm: 0.7 + 0.1 * (n % 8) } })],
  ['spacing', (n) => ({ optics: { spacingErrorMm: -0.8 - 0.1 * (n % 8) } })],
  ['spacing', (n) => ({ optics: { spacingErrorMm: 0.8 + 0.1 * (n % 6), astigmatismUmPerMm: -60 } })],
  ['tilt', (n) => ({ optics: { tiltUm: 55 + 8 * (n % 8), tiltDirectionDeg: 37 * n } })],
  ['tracking', (n) => ({ conditions: { driftPx: 2.4 + 0.3 * (n % 8), driftDirectionDeg: 37 * n } })],
  ['collimation', (n) => ({ optics: { comaUm: 11 + 2 * (n % 6), comaDirectionDeg: 37 * n } })],
  ['focus', (n) => ({ optics: { defocusUm: (n % 2 ? 1 : -1) * (160 + 20 * (n % 6)), obstruction: n % 3 ? 0 : 0.35 } })],
  ['light', (n) => ({ conditions: { illumination: shaded(0.4 + 0.05 * (n % 6)) } })]
];
/** Frames of each; by hand LODESTONE_FAULT_FRAMES asks for more (25 make 200). */
const EACH = Number(process.env.LODESTONE_FAULT_FRAMES ?? 10);
const NIGHT = (n: number) => ({ seeingPx: 2.6 + 0.2 * (n % 6), hotPixels: 60, cosmicRays: 4 });

describe('single faults of the simulated camera', () => {
  it('are named first in at least 95 % of all frames', () => {
    const wrong: string[] = [];
    for (const [cause, fault] of FAULTS) {
      for (let n = 0; n < EACH; n++) {
        const { optics = {}, conditions = {} } = fault(n);
        const [named = 'none'] = causes({ seed: 1000 + n, optics, conditions: { ...NIGHT(n), ...conditions } });
        if (named !== cause) wrong.push(`${cause} ${n}: ${named}`);
      }
    }
    expect(wrong.length, wrong.join(', ')).toBeLessThanOrEqual(0.05 * EACH * FAULTS.length);
  });
});
