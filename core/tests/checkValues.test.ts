import { describe, expect, it } from 'vitest';
import { checkTrain } from '../src/check/index.ts';
import type { Corrector, Element, Train } from '../src/train/index.ts';
import { camera, corrector, part, train } from './trains.ts';

/**
 * The check-value table of the handbook, §2. Each row is marked as the handbook marks it: common
 * practice, no source, unless it says "a calculation".
 */
interface Row {
  source: 'common practice, no source' | 'a calculation';
  asks: Corrector;
  elements: Element[];
  required: number;
  actual: number;
  residual: number;
  rule?: Train['glassRule'];
  /** The flattener's own dial runs from 0 to 15. */
  dialAt?: number;
}

const common = 'common practice, no source';
const oneThirdMm = (thicknessMm: number) => ({ glass: [{ thicknessMm }] });

const rows: Record<string, Row> = {
  'coma corrector 55 with a mirrorless body, bayonet adapter and T-ring': {
    source: common,
    asks: { backFocusMm: 55 },
    elements: [part('T-ring', 11), part('bayonet adapter', 24), camera(20)],
    required: 55,
    actual: 55,
    residual: 0
  },
  'flattener 56.8 with T-ring 11 and an M42→M48 adapter 2': {
    source: common,
    asks: { backFocusMm: 56.8 },
    dialAt: 0,
    elements: [part('adapter', 2), part('T-ring', 11), part('bayonet adapter', 24), camera(20)],
    required: 56.8,
    actual: 57,
    residual: 0.2
  },
  'flattener 56.8 with a one-piece T-ring 10': {
    source: common,
    asks: { backFocusMm: 56.8 },
    dialAt: 0,
    elements: [part('T-ring', 10), part('bayonet adapter', 24), camera(20)],
    required: 56.8,
    actual: 54,
    residual: -2.8
  },
  'the same flattener with a cooled camera, wheel and adapter': {
    source: common,
    asks: { backFocusMm: 56.8 },
    dialAt: 0,
    elements: [part('adapter', 2), part('wheel', 20), camera(17.5)],
    required: 56.8,
    actual: 39.5,
    residual: -17.3
  },
  'the same with a 16.5 extension': {
    source: common,
    asks: { backFocusMm: 56.8 },
    dialAt: 0,
    elements: [part('extension', 16.5), part('adapter', 2), part('wheel', 20), camera(17.5)],
    required: 56.8,
    actual: 56,
    residual: -0.8
  },
  'cooled camera with 21 and 16.5 spacers': {
    source: common,
    asks: { backFocusMm: 55 },
    elements: [part('spacer', 21), part('ring', 16.5), camera(17.5)],
    required: 55,
    actual: 55,
    residual: 0
  },
  'reducer 146.05 = 5.75 in': {
    source: 'a calculation',
    asks: { backFocusMm: 5.75 * 25.4 },
    elements: [part('adapter', 91.05), part('T-ring', 11), camera(44)],
    required: 146.05,
    actual: 146.05,
    residual: 0
  },
  'corrector 64 with one 3 mm filter by the t/3 rule': {
    source: common,
    asks: { backFocusMm: 64 },
    rule: 'third',
    elements: [
      part('drawer', 29, oneThirdMm(3)),
      part('ring', 7.5),
      part('recessed ring', 12, { seat: { recessMm: 3.5 } }),
      camera(17.5)
    ],
    required: 65,
    actual: 62.5,
    residual: -2.5
  },
  'drawer with a 1 mm filter in a 55 train by the t/3 rule': {
    source: common,
    asks: { backFocusMm: 55 },
    rule: 'third',
    elements: [part('drawer', 37.5, oneThirdMm(1)), camera(17.5)],
    required: 55 + 1 / 3,
    actual: 55,
    residual: -1 / 3
  },
  'reducer 105 with a recessed spacer': {
    source: common,
    asks: { backFocusMm: 105 },
    elements: [
      part('adapter', 50),
      part('spacer', 16.5),
      part('recessed spacer', 7.5, { seat: { recessMm: 4 } }),
      part('drawer', 21),
      part('nose', 11),
      camera(6.5)
    ],
    required: 105,
    actual: 108.5,
    residual: 3.5
  },
  'the same against the owner’s tuned 108.5': {
    source: common,
    asks: { backFocusMm: 105, tunedMm: 108.5 },
    elements: [part('stack', 102), camera(6.5)],
    required: 108.5,
    actual: 108.5,
    residual: 0
  },
  'flattener 69.2 from the last surface, 1.5 deep': {
    source: common,
    asks: { backFocusMm: 69.2, datum: 'last-surface', datumOffsetMm: 1.5 },
    elements: [part('ring', 12.9), camera(55)],
    required: 67.7,
    actual: 67.9,
    residual: 0.2
  },
  'reducer 105 with rings, wheel and camera': {
    source: common,
    asks: { backFocusMm: 105 },
    elements: [part('rings', 78.5), part('wheel', 20), camera(6.5)],
    required: 105,
    actual: 105,
    residual: 0
  },
  'corrector 64.5 with a camera and a drawer': {
    source: common,
    asks: { backFocusMm: 64.5 },
    elements: [part('drawer', 17), camera(17.5)],
    required: 64.5,
    actual: 34.5,
    residual: -30
  }
};

function trainOf({ asks, elements, rule, dialAt }: Row): Train {
  const dial = dialAt === undefined ? {} : { adjust: { minMm: 0, maxMm: 15, setMm: dialAt } };
  return train([corrector(asks, dial), ...elements], rule ? { glassRule: rule } : {});
}

describe('check values of handbook §2', () => {
  it.each(Object.entries(rows).map(([name, row]) => ({ name, row })))('$name ($row.source)', ({ row }) => {
    const report = checkTrain(trainOf(row));
    expect(report.required.totalMm).toBeCloseTo(row.required, 9);
    expect(report.actual.totalMm).toBeCloseTo(row.actual, 9);
    expect(report.residualMm).toBeCloseTo(row.residual, 9);
    expect(report.verdict).toBe(Math.abs(row.residual) <= 0.1 ? 'on-spec' : row.residual < 0 ? 'short' : 'long');
  });

  // common practice, no source
  it.each([
    ['flattener 56.8 with T-ring 11 and an M42→M48 adapter 2', { setMm: 0, reachable: false, missMm: 0.2 }],
    ['flattener 56.8 with a one-piece T-ring 10', { setMm: 2.8, reachable: true, missMm: 0 }],
    ['the same flattener with a cooled camera, wheel and adapter', { setMm: 15, reachable: false, missMm: -2.3 }],
    ['the same with a 16.5 extension', { setMm: 0.8, reachable: true, missMm: 0 }]
  ])('dial: %s', (name, answer) => {
    expect(checkTrain(trainOf(rows[name]!)).dial).toEqual({ id: 'corrector', ...answer });
  });

  it('a 21 mm filter drawer may replace the 21 mm spacer (common practice, no source)', () => {
    const drawer = part('drawer', 21, { kind: 'filter-drawer' });
    expect(checkTrain(train([corrector({ backFocusMm: 55 }), drawer, part('ring', 16.5), camera(17.5)])).verdict).toBe(
      'on-spec'
    );
  });

  it('is on spec when the maker allowed 0.2 for a filter (common practice, no source)', () => {
    const allowed = train([
      corrector({ backFocusMm: 67.7, toleranceMm: 0.05 }),
      part('ring', 12.9, { glass: [{ thicknessMm: 0.6, index: 1.5 }] }),
      camera(55)
    ]);
    expect(checkTrain(allowed).verdict).toBe('on-spec');
  });

  it('a short nose ring of 11 turns 6.5 into 17.5 and may come off (common practice, no source)', () => {
    const withNose = checkTrain(
      train([corrector({ backFocusMm: 17.5 }), part('nose', 11, { removable: true }), camera(6.5)])
    );
    expect(withNose.actual.totalMm).toBe(17.5);
  });
});
