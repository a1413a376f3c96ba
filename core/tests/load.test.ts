import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { GRAVITY } from '../src/load/index.ts';
import { apply, readTrainText, type BodyElement, type Train } from '../src/train/index.ts';
import { assess, checkTrain, explain } from '../src/check/index.ts';
import { loadLayer } from '../src/shape/index.ts';
import { turnedRound } from '../src/joint/index.ts';
import { camera, part, train } from './trains.ts';

const hung = (more: Partial<BodyElement> = {}, of: Partial<Train['host']> = {}): Train => {
  const made = train([part('tube', 100, { massG: 300, ...more }), camera(20, { massG: 500 })]);
  return { ...made, host: { ...made.host, focuser: { maxLoadKg: 1 }, ...of } };
};

describe('what hangs on the host', () => {
  it('is a cantilever: each weight times its arm from the face (statics, M = Σ F x; 3rd CGPM for g)', () => {
    // 300 g in the middle of a tube of 100 mm, 500 g in the middle of the next 20: 50 and 110 mm from the face.
    const { load } = checkTrain(hung());
    expect(load.massG).toBe(800);
    expect(load.centreOfMassMm).toBeCloseTo((300 * 50 + 500 * 110) / 800, 9);
    expect(load.momentNm).toBeCloseTo(9.80665 * (0.3 * 0.05 + 0.5 * 0.11), 9);
    expect(GRAVITY).toBe(9.80665);
  });

  it('counts a stated centre of mass, and what hangs on a part without standing in the beam', () => {
    const { load } = checkTrain(
      hung({ massAtMm: 80, attached: [{ name: 'Focus motor', massG: 200, alongMm: -10 }] } as Partial<BodyElement>)
    );
    expect(load.massG).toBe(1000);
    expect(load.momentNm).toBeCloseTo(9.80665 * (0.3 * 0.08 + 0.5 * 0.11 + 0.2 * -0.01), 9);
  });

  it('equals its mass at its centre of mass, wherever everything hangs (Varignon’s theorem)', () => {
    const mm = fc.double({ min: 0, max: 200, noNaN: true });
    const grams = fc.double({ min: 1, max: 3000, noNaN: true });
    fc.assert(
      fc.property(mm, grams, mm, grams, (lengthMm, massG, alongMm, other) => {
        const { load } = checkTrain(
          hung({ lengthMm, massG, attached: [{ name: 'a', massG: other, alongMm }] } as Partial<BodyElement>)
        );
        expect(load.momentNm).toBeCloseTo((GRAVITY * load.massG * load.centreOfMassMm!) / 1e6, 9);
      })
    );
  });

  it('is held against ratings, of the focuser and of each part by what hangs behind it', () => {
    const over = checkTrain(hung({ maxLoadKg: 0.4 }, { focuser: { maxLoadKg: 0.8 } }));
    expect(over.load.limits).toEqual([
      { at: 'host', massKg: 0.8, maxKg: 0.8, ok: true },
      { at: 'tube', massKg: 0.5, maxKg: 0.4, ok: false }
    ]);
    const finding = over.problems.find(({ code }) => code === 'load')!;
    expect(finding).toMatchObject({ severity: 'warning', at: 'tube' });
    expect(finding.message).toContain('carries 0.50 kg, and is made for 0.40 kg');
  });

  it('says what is not weighed: what is known is a least, and passes nothing', () => {
    const { massG: _none, ...bare } = hung().elements[0] as BodyElement;
    const some = { ...hung(), elements: [bare as BodyElement, hung().elements[1]!] };
    const assessment = assess(some);
    expect(assessment.report.load).toMatchObject({ massG: 500, unweighed: ['tube'] });
    expect(assessment.findings.find(({ code }) => code === 'load')).toMatchObject({
      level: 'not-known',
      place: { kind: 'element', id: 'tube' },
      fill: ['massG']
    });
    // Too much already: what is missing cannot make it less.
    const heavy = assess({ ...some, host: { ...some.host, focuser: { maxLoadKg: 0.4 } } });
    expect(heavy.findings.find(({ code }) => code === 'load')!.level).toBe('warning');
    const nothing = checkTrain(train([part('tube', 10), camera(20)]));
    expect(nothing.load).toMatchObject({ massG: 0, centreOfMassMm: null, momentNm: 0, limits: [] });
  });

  it('is explained by lines that add up to it', () => {
    const reading = readTrainText(readFileSync(new URL('../../demo/long-tom.json', import.meta.url), 'utf8'));
    if (!reading.ok) throw new Error('the demo must be valid');
    const { facts } = assess(reading.document);
    for (const subject of ['load.mass', 'load.moment'] as const) {
      const { lines, result } = explain(facts, subject)!;
      expect(lines.reduce((sum, { quantity }) => sum + quantity.value, 0)).toBeCloseTo(result.value, 9);
    }
    // Drawn: an arrow where everything acts together.
    const arrows = loadLayer.shapes(facts, 0).filter(({ role }) => role === 'weight-all');
    expect(arrows[0]).toMatchObject({ start: [facts.axis.hostFaceMm + facts.load.centreOfMassMm!, 0] });
    expect(loadLayer.stops(facts, 0)[0]!.words).toContain('3.54 kg');
  });

  it('turns round with its part', () => {
    const tube = part('tube', 100, { massAtMm: 80, attached: [{ name: 'a', massG: 5, alongMm: 10 }] });
    expect(turnedRound(tube)).toMatchObject({ massAtMm: 20, attached: [{ alongMm: 90 }] });
    expect(apply(hung(), { op: 'set', at: 'tube', path: ['massAtMm'], to: 80 }).elements[0]).toMatchObject({
      massAtMm: 80
    });
  });
});
