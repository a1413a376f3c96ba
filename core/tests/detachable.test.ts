import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { assemblySheet, changeOver, packingList, readingOperation } from '../src/assembly/index.ts';
import { assess, remediesOf } from '../src/check/index.ts';
import { partLength, placedPart, refreshedPart, type Part } from '../src/drawer/index.ts';
import { adviseOn, findStacks } from '../src/finder/index.ts';
import { turnedRound } from '../src/joint/index.ts';
import { explainLength } from '../src/length/explain.ts';
import { ledgerOf } from '../src/length/index.ts';
import { layoutOf } from '../src/shape/index.ts';
import {
  apply,
  cameraPort,
  hostPort,
  inverse,
  lengthOf,
  pieceChanges,
  readTrain,
  skyPort,
  type BodyElement,
  type Detachable,
  type Port,
  type Train
} from '../src/train/index.ts';
import { anyTrain, camera, corrector, part, train } from './trains.ts';

const thread = (of: string, gender: 'male' | 'female'): Port => ({ thread: of, gender, lengthMm: 4 });
const M42 = thread('M42x0.75', 'female');
const bolts: Port = { bolts: { count: 4, circleMm: 52 } };
const nose: Detachable = { name: 'nose', lengthMm: 11, on: true };

/** A lens whose bayonet is unscrewed, so that a flange of one's own goes on. */
const lens = (mount: Partial<Detachable> = {}, flangeMm = 31.7): Train => ({
  ...train([part('flange', flangeMm, { sky: bolts, camera: thread('M42x0.75', 'male') }), camera(17.5, { sky: M42 })]),
  host: {
    name: 'Old lens',
    kind: 'camera-lens',
    apertureMm: 50,
    focalLengthMm: 135,
    camera: { bayonet: 'dslr-44.0', gender: 'female' },
    corrector: { backFocusMm: 44, toleranceMm: 0.1 },
    detachable: [{ name: 'bayonet mount', lengthMm: 5.2, on: false, face: 'camera', under: bolts, ...mount }]
  }
});

describe('a nose that can be taken off', () => {
  it('6.5 becomes 17.5 with it (handbook §2, common practice)', () => {
    const of = (on: boolean): Train =>
      train([corrector({ backFocusMm: 55 }), camera(6.5, { detachable: [{ ...nose, on }] })]);
    expect(assess(of(true)).report.actual).toEqual({
      totalMm: 17.5,
      entries: [{ id: 'camera', mm: 17.5, from: 'published' }]
    });
    expect(assess(of(false)).report.actual.totalMm).toBe(6.5);
  });

  it('leaves the face that was under it, or one that nobody knows', () => {
    const bare = (piece: Partial<Detachable>) =>
      skyPort(camera(6.5, { sky: M42, detachable: [{ ...nose, on: false, ...piece }] }));
    expect(bare({ under: bolts })).toEqual(bolts);
    expect(bare({ face: 'sky' })).toBeUndefined();
    expect(bare({})).toEqual(M42);
    expect(bare({ on: true, under: bolts })).toEqual(M42);
  });

  it('of several that are off, the innermost says which face is left', () => {
    const under = thread('M54x0.75', 'female');
    const plate: Detachable = { name: 'plate', lengthMm: 5, on: false, under: bolts };
    expect(skyPort(camera(6.5, { sky: M42, detachable: [{ ...nose, on: false, under }, plate] }))).toEqual(bolts);
  });

  it('what is measured of a part with it on is kept without it', () => {
    const before = train([corrector({ backFocusMm: 55 }), part('ring', 10, { detachable: [nose] }), camera(17.5)]);
    const measure = { from: 'ring', to: 'ring', expectedMm: 21, uncertaintyMm: 0.1 };
    const after = apply(before, readingOperation(before, measure, 21.04, { instrument: 'caliper', errorMm: 0.02 }));
    expect(after.elements[1]).toMatchObject({ measured: { lengthMm: 10.04 } });
    expect(ledgerOf(after).entries[0]).toEqual({ id: 'ring', mm: 21.04, from: 'measured' });
  });
});

describe('a host whose mount is off', () => {
  it('asks for its flange and the mount, counted from the face that is left', () => {
    const { report } = assess(lens());
    expect(report.required).toMatchObject({ nominalMm: 44, datumMm: 5.2, totalMm: 49.2 });
    expect(report.verdict).toBe('on-spec');
    expect(assess(lens({ on: true })).report.required).toMatchObject({ datumMm: 0, totalMm: 44 });
    expect(hostPort(lens().host)).toEqual(bolts);
  });

  it('says so where the number is asked', () => {
    const explained = explainLength(lens(), ledgerOf(lens()), 'length.required')!;
    expect(explained.lines.map(({ label, quantity }) => [label, quantity.value])).toEqual([
      ['back focus of Old lens', 44],
      ['bayonet mount, taken off Old lens', 5.2]
    ]);
  });

  it('has its focus farther behind the face that is left', () => {
    const telescope = (on: boolean): Train => ({
      ...train([part('ring', 60), camera(17.5)]),
      host: {
        ...train([]).host,
        focuser: { travelMm: 80, focusFromRackedInMm: 100 },
        detachable: [{ name: 'visual back', lengthMm: 15, on }]
      }
    });
    expect(assess(telescope(true)).report.focus?.extensionMm).toBeCloseTo(22.5, 9);
    expect(assess(telescope(false)).report.focus?.extensionMm).toBeCloseTo(37.5, 9);
  });

  it('is opened first on the sheet, its screws counted, with what to mind and where it is kept', () => {
    const kept = lens({ keptAt: 'Tin 3', fasteners: [{ thread: 'M2', lengthMm: 6, count: 4, tool: 'JIS 0 driver' }] });
    const steps = assemblySheet(kept, 'mm', 'telescope');
    expect(steps[0]).toMatchObject({
      do: 'Take the bayonet mount (5.20 mm) off Old lens: undo 4 × M2, 6 mm long, and count them. Keep it at Tin 3.',
      parts: ['host'],
      joint: null,
      tools: ['JIS 0 driver']
    });
    expect(steps[0]!.cautions[0]).toContain('springs');
    for (const order of ['camera', 'telescope', 'parts'] as const) {
      const keys = assemblySheet(kept, 'mm', order).map(({ key }) => key);
      expect(keys.indexOf('off host 0')).toBeLessThan(keys.indexOf('flange'));
      expect(keys).toContain('off host 0');
    }
  });

  it('closes its joint anew when the mount goes off or on', () => {
    const seal = (of: Train) => assemblySheet(of, 'mm').find(({ joint }) => joint === 'flange')!.seal;
    expect(seal(lens({ under: { bayonet: 'dslr-44.0', gender: 'female' } }))).not.toBe(seal(lens({ on: true })));
  });
});

describe('what can be taken off, as a way out', () => {
  const long = train([
    corrector({ backFocusMm: 55 }),
    part('ring', 42.5),
    camera(17.5, { name: 'Camera', detachable: [{ name: 'tilt plate', lengthMm: 5, on: true }] })
  ]);

  it('is a remedy of a train that is too long by it, and of none that is too short', () => {
    const told = (of: Train) => {
      const assessment = assess(of);
      const finding = assessment.findings.find(({ code }) => code === 'length')!;
      return remediesOf(assessment, finding).map(({ sentence }) => sentence('mm'));
    };
    expect(told({ ...long, elements: long.elements.with(1, part('ring', 30)) })).toEqual([]);
    expect(told(long)).toContain('Take the tilt plate (5.00 mm) off Camera: that leaves it 5.00 mm long.');
    expect(told({ ...long, elements: long.elements.with(1, part('ring', 37.5)) })).toEqual([
      'Take the tilt plate (5.00 mm) off Camera.'
    ]);
  });

  it('is advice where the drawer has nothing', () => {
    const gap = { id: 'gap', kind: 'gap', name: 'gap' } as const;
    const open = { ...long, elements: [long.elements[0]!, part('ring', 37.5), gap, long.elements[2]!] };
    const options = { parts: [], prefer: 'fewest', unit: 'mm', limit: 1, maxPieces: 2 } as const;
    const [first] = adviseOn(open, options, findStacks(open, options));
    expect(first).toMatchObject({ kind: 'take-off', gainMm: -5, message: 'Take the tilt plate (5.00 mm) off Camera.' });
    expect(assess(apply(open, first!.operation)).isGood).toBe(true);
  });

  it('goes along packed: what is on with its part, what is off as something to have at hand', () => {
    const items = packingList(lens({ keptAt: 'Tin 3' }), [], () => true, 'mm');
    expect(items.find(({ what }) => what.startsWith('bayonet mount'))).toMatchObject({
      group: 'rings',
      what: 'bayonet mount of Old lens, 5.20 mm',
      location: 'Tin 3'
    });
    expect(packingList(long, [], () => true, 'mm').find(({ what }) => what.includes('tilt plate'))).toMatchObject({
      group: 'parts',
      what: 'tilt plate, on Camera'
    });
  });

  it('of a size that cannot be is asked about', () => {
    const codes = (lengthMm: number) =>
      assess(
        train([corrector({ backFocusMm: 55 }), camera(6.5, { detachable: [{ ...nose, lengthMm }] })])
      ).findings.map(({ code }) => code);
    expect(codes(11)).not.toContain('piece-longer');
    expect(codes(110)).toContain('piece-longer');
  });
});

describe('a part of the drawer', () => {
  const made: Part = {
    partId: 'C-1',
    element: camera(6.5, { detachable: [nose] }),
    quantity: 1,
    owned: true,
    location: '',
    state: 'spare',
    measurements: []
  };

  it('is as long as it stands, and keeps what is off in a train when it is brought up to date', () => {
    expect(partLength(made)).toBe(17.5);
    const placed = placedPart(made, { id: 'camera' });
    const off = { ...placed, detachable: [{ ...nose, on: false }] } as typeof placed;
    const fresh = refreshedPart(off, { ...made, element: camera(6.6, { detachable: [{ ...nose, lengthMm: 11.1 }] }) });
    expect(fresh).toMatchObject({ lengthMm: 6.6, detachable: [{ name: 'nose', lengthMm: 11.1, on: false }] });
  });

  it('turned round has its piece on the other face', () => {
    const ring = part('ring', 10, { sky: M42, camera: bolts, detachable: [{ ...nose, on: false }] });
    const turned = turnedRound(ring);
    expect(turned.detachable![0]!.face).toBe('camera');
    expect(cameraPort(turned)).toEqual(skyPort(ring));
    expect(skyPort(turned)).toEqual(cameraPort(ring));
    expect(lengthOf(turnedRound(turned))).toBe(lengthOf(ring));
  });
});

describe('a change-over', () => {
  const of = (on: boolean, name: string): Train => ({
    ...train([
      corrector({ backFocusMm: 55 }),
      part('wheel', 20, { kind: 'filter-wheel', partId: 'FW-1' }),
      camera(6.5, { partId: 'C-1', detachable: [{ ...nose, on }] })
    ]),
    name
  });

  it('takes the camera over, opens its joint to take the nose off, and states so', () => {
    const change = changeOver(of(true, 'one'), of(false, 'other'));
    expect(change).toMatchObject({
      open: ['camera'],
      aside: [],
      bring: [],
      set: [{ id: 'camera', pieces: [{ name: 'nose', on: false }] }]
    });
    expect(changeOver(of(true, 'one'), of(true, 'other'))).toMatchObject({ open: [], set: [] });
  });
});

describe('any train', () => {
  it('taking a piece off or putting it on moves the residual by exactly its length, and undoes', () => {
    fc.assert(
      fc.property(anyTrain, (of) => {
        expect(readTrain(of).ok).toBe(true);
        const before = ledgerOf(of);
        for (const { at, operation, gainMm } of pieceChanges(of, before.datum.index)) {
          const after = apply(of, operation);
          expect(apply(after, inverse(of, operation))).toEqual(of);
          const then = ledgerOf(after);
          const index = of.elements.findIndex(({ id }) => id === at);
          // A face that changes changes what its joints open; a part inside another adds nothing.
          const same = JSON.stringify(before.joints.map(({ openingMm, recessMm }) => [openingMm, recessMm]));
          const isSame = same === JSON.stringify(then.joints.map(({ openingMm, recessMm }) => [openingMm, recessMm]));
          if (!isSame || before.nested.has(index) || then.nested.has(index)) continue;
          if (before.residualMm === null || then.residualMm === null) continue;
          expect(then.residualMm - before.residualMm).toBeCloseTo(gainMm, 9);
        }
      })
    );
  });

  it('is drawn with its pieces where they are: those that are on inside their part, those that are off outside', () => {
    fc.assert(
      fc.property(anyTrain, (of) => {
        const ledger = ledgerOf(of);
        const layout = layoutOf(of, ledger);
        layout.items.forEach(({ fromMm, toMm, pieces }, index) => {
          const element = of.elements[index] as BodyElement;
          const onMm = (element.detachable ?? []).reduce((sum, { on, lengthMm }) => sum + (on ? lengthMm : 0), 0);
          const drawnMm = pieces.reduce((sum, piece) => sum + (piece.on ? piece.toMm - piece.fromMm : 0), 0);
          expect(drawnMm).toBeCloseTo(onMm, 6);
          for (const piece of pieces) {
            const inside = piece.fromMm >= fromMm - 1e-6 && piece.toMm <= toMm + 1e-6;
            expect(inside || !piece.on).toBe(true);
            if (!piece.on) expect(piece.toMm <= fromMm + 1e-6 || piece.fromMm >= toMm - 1e-6).toBe(true);
          }
        });
        expect(layout.sensorMm).toBeCloseTo(ledger.actualMm, 6);
      })
    );
  });
});
