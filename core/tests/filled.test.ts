import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { RAIL_LAYERS } from '../src/shape/index.ts';
import { Facts, assess, checkTrain, remediesOf } from '../src/check/index.ts';
import type { Element, Train } from '../src/train/index.ts';
import { anyTrain, camera, corrector, part, train } from './trains.ts';
import { drawer } from './drawer.ts';

/** A train with gaps is judged as it will stand once they are filled (architecture, “Nothing is judged of a half-built train”). */

const sensor = { widthMm: 23.4, heightMm: 15.6, pixelUm: 3.8 };
const mm = (most: number) => fc.integer({ min: 0, max: most * 100 }).map((hundredths) => hundredths / 100);
const gap = (id: string, more: object = {}): Element => ({ id, kind: 'gap', name: id, ...more });

/** A reducer, gaps on both sides of a guider, a wheel, a camera; a host with a draw tube. */
const gappy: fc.Arbitrary<Train> = fc
  .record({
    first: fc.record({ minMm: fc.option(mm(8), { nil: undefined }), maxMm: fc.option(mm(30), { nil: undefined }) }),
    second: fc.option(fc.record({ maxMm: fc.option(mm(20), { nil: undefined }) }), { nil: undefined }),
    ahead: fc.option(mm(12), { nil: undefined }),
    asksMm: fc.integer({ min: 60, max: 140 }),
    magnification: fc.constantFrom(0.7, 0.8, 1)
  })
  .map(({ first, second, ahead, asksMm, magnification }) => {
    const made = train([
      ...(ahead === undefined ? [] : [gap('ahead', { minMm: ahead })]),
      corrector({ backFocusMm: asksMm, magnification }, { massG: 400 }),
      gap('first', (first.minMm ?? 0) > (first.maxMm ?? Infinity) ? { minMm: first.minMm } : first),
      part('guider', 16, {
        kind: 'off-axis-guider',
        massG: 300,
        pickoff: {
          fromSkyMm: 4,
          sideMm: 8,
          innerEdgeMm: 12,
          guideFocus: { minMm: 20, maxMm: 45 },
          guideCamera: { flangeMm: 12.5 }
        }
      }),
      ...(second ? [gap('second', second)] : []),
      part('wheel', 20, {
        kind: 'filter-wheel',
        massG: 700,
        glass: [{ slot: 1, thicknessMm: 2, clearMm: 30, fromSkyMm: 8 }]
      }),
      camera(17.5, { massG: 600, sensor })
    ]);
    const focuser = { travelMm: 80, focusFromRackedInMm: 170, maxLoadKg: 3 };
    return JSON.parse(JSON.stringify({ ...made, host: { ...made.host, focuser } })) as Train;
  });

/** What is missing shared out by hand: what has to be there first, then from the sky side on as far as limits let it. */
function filledByHand(made: Train): { filled: Train; totalMm: number } {
  const lengths = new Map<string, number>();
  let left = -(checkTrain(made).residualMm ?? 0);
  const behind = made.elements.findIndex(({ id }) => id === 'corrector');
  const gaps = made.elements.flatMap((element, index) => (element.kind === 'gap' ? [{ element, index }] : []));
  for (const { element, index } of gaps) {
    lengths.set(element.id, element.minMm ?? 0);
    if (index > behind) left -= element.minMm ?? 0;
  }
  for (const { element, index } of gaps) {
    if (index < behind) continue;
    const more = Math.max(0, Math.min(left, (element.maxMm ?? Infinity) - (element.minMm ?? 0)));
    lengths.set(element.id, lengths.get(element.id)! + more);
    left -= more;
  }
  const elements = made.elements.map((element): Element =>
    element.kind === 'gap'
      ? { ...part(element.id, lengths.get(element.id)!, { massG: 0, toleranceMm: 0 }), name: element.name }
      : element
  );
  return { filled: { ...made, elements }, totalMm: [...lengths.values()].reduce((sum, each) => sum + each, 0) };
}

describe('a train with gaps', () => {
  it('has the guiding, light, load and focus of the same train with plain rings in them', () => {
    fc.assert(
      fc.property(gappy, (made) => {
        const { filled, totalMm } = filledByHand(made);
        const [open, closed] = [checkTrain(made), checkTrain(filled)];
        const close = (a: number | null | undefined, b: number | null | undefined): void => {
          if (a === null || a === undefined || b === null || b === undefined) expect(a).toBe(b);
          else expect(a).toBeCloseTo(b, 6);
        };
        close(open.guide?.requiredMm, closed.guide?.requiredMm);
        close(open.guide?.atMm, closed.guide?.atMm);
        expect(open.guide?.verdict).toBe(closed.guide?.verdict);
        close(open.light?.focalLengthMm, closed.light?.focalLengthMm);
        close(open.light?.illumination.corner, closed.light?.illumination.corner);
        close(open.load.momentNm, closed.load.momentNm);
        close(open.focus?.extensionMm, closed.focus?.extensionMm);
        // The length itself is the train's own: a gap counts nothing.
        expect(open.actual.totalMm).toBeLessThanOrEqual(closed.actual.totalMm + 1e-9);
        const facts = new Facts(made);
        expect(facts.filled?.totalMm ?? 0).toBeCloseTo(totalMm, 6);
        if (facts.filled) expect(facts.filled.axis.sensorMm).toBeCloseTo(facts.filled.ledger.actualMm, 9);
      }),
      { numRuns: 400 }
    );
  });

  it('says in every sentence that rests on it that the gap is filled, and by how much', () => {
    fc.assert(
      fc.property(gappy, (made) => {
        const assessment = assess(made);
        const { facts, findings } = assessment;
        const judged = findings.filter(({ code }) => /^(corner-light|guide-|load|focus-)/.test(code));
        expect(judged.length).toBeGreaterThan(0);
        for (const { say } of judged) {
          if (facts.filled) expect(say('mm')).toMatch(/^Once the gaps? (is|are) filled with \d+\.\d\d mm: /);
          else expect(say('mm')).not.toContain('Once the gap');
        }
      }),
      { numRuns: 100 }
    );
  });

  it('is drawn where its parts are: layers of the filled train fall onto the rail with its gaps closed', () => {
    fc.assert(
      fc.property(gappy, (made) => {
        const facts = new Facts(made);
        made.elements.forEach((element, index) => {
          if (element.kind === 'gap') return;
          const at = facts.standing.axis.spans[index]!.fromMm;
          expect(facts.drawnAt(at)).toBeCloseTo(facts.axis.spans[index]!.fromMm, 6);
        });
        for (const layer of RAIL_LAYERS) {
          for (const stop of layer.stops(facts, 10)) {
            expect(stop.alongMm).toBeLessThanOrEqual(facts.axis.sensorMm + 1e-6);
          }
        }
      }),
      { numRuns: 100 }
    );
  });
});

describe('what a remedy says', () => {
  it('is so of its result: the residual it names, and the length where it says that it stays', () => {
    const parts = drawer(
      { partId: 'R5', lengthMm: 5 },
      { partId: 'S2', kind: 'shim', lengthMm: 0.2, clearMm: 49 },
      { partId: 'R16', lengthMm: 16, clearMm: 50 }
    );
    let remedies = 0;
    fc.assert(
      fc.property(fc.oneof(anyTrain, gappy), (made) => {
        const before = assess(made);
        for (const finding of before.findings) {
          for (const remedy of remediesOf(before, finding, parts)) {
            remedies++;
            const words = remedy.sentence('mm');
            const after = remedy.after.ledger.residualMm;
            if (/leaves the length as it is|as long as before/.test(words)) {
              expect(Math.abs((after ?? 0) - (before.ledger.residualMm ?? 0))).toBeLessThan(1e-6);
            }
            const left = /leaves it (\d+\.\d+) mm (short|long)/.exec(words);
            // To the hundredth that is printed.
            if (left) {
              const told = Number(left[1]) * (left[2] === 'short' ? -1 : 1);
              expect(Math.abs(after! - told)).toBeLessThan(0.0051);
            }
            if (/brings it within tolerance/.test(words)) expect(remedy.after.verdict).toBe('on-spec');
          }
        }
      }),
      { numRuns: 600 }
    );
    expect(remedies).toBeGreaterThan(200);
  });

  it('of a shim moved across the datum is not offered as leaving the length', () => {
    const made: Train = {
      ...train([
        { id: 's', kind: 'shim', name: 's', lengthMm: 0.8 },
        corrector({ backFocusMm: 60 }),
        part('guider', 16, {
          kind: 'off-axis-guider',
          pickoff: {
            fromSkyMm: 4,
            sideMm: 8,
            innerEdgeMm: 12,
            guideFocus: { minMm: 70, maxMm: 90 },
            guideCamera: { flangeMm: 12.5 }
          }
        }),
        part('ring', 26.5),
        camera(17.5, { sensor })
      ])
    };
    const before = assess(made);
    for (const finding of before.findings) {
      for (const { sentence, after } of remediesOf(before, finding)) {
        if (sentence('mm').includes('leaves the length as it is')) {
          expect(after.ledger.residualMm).toBeCloseTo(before.ledger.residualMm!, 9);
        }
      }
    }
  });
});
