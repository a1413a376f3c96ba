import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { apply, isSolid, type Corrector, type Element, type Port, type Train } from '../src/train/index.ts';
import { assess, checkTrain, explain, nextStep } from '../src/check/index.ts';
import { combined, type Subject } from '../src/why/index.ts';
import { countedFrom, toleranceByRule } from '../src/length/index.ts';
import { anyTrain, camera, corrector, part, train } from './trains.ts';

const residual = (of: Train) => checkTrain(of).residualMm;

describe('datum', () => {
  const male = (lengthMm: number) => ({ camera: { thread: 'M48x0.75', gender: 'male' as const, lengthMm } });

  it('thread-tip adds the male thread, the camera port’s own when none is stated (handbook §1)', () => {
    const asks = { backFocusMm: 50, datum: 'thread-tip' as const };
    expect(checkTrain(train([corrector(asks, male(4.5)), camera(54.5)])).residualMm).toBe(0);
    expect(checkTrain(train([corrector({ ...asks, datumOffsetMm: 3 }, male(4.5)), camera(54.5)])).residualMm).toBe(1.5);
  });

  it('last-surface takes the depth off, and adds it when the glass stands proud (handbook §1)', () => {
    const asks = (datumOffsetMm: number) => ({ backFocusMm: 55, datum: 'last-surface' as const, datumOffsetMm });
    expect(checkTrain(train([corrector(asks(5)), camera(50)])).residualMm).toBe(0);
    expect(checkTrain(train([corrector(asks(-2)), camera(57)])).residualMm).toBe(0);
  });

  it('says when the offset it needs is not stated', () => {
    const codes = checkTrain(train([corrector({ backFocusMm: 55, datum: 'last-surface' }), camera(55)])).problems;
    expect(codes.map(({ code }) => code)).toContain('datum-offset-unknown');
  });

  it('a tuned value one thread longer than the published one was probably misread (common practice, no source)', () => {
    const tuned = train([corrector({ backFocusMm: 55, tunedMm: 59.4 }, male(4.5)), camera(59.4)]);
    expect(checkTrain(tuned).problems.map(({ code }) => code)).toContain('datum-misread');
  });

  it('nothing on the sky side of the corrector counts, nor its own body', () => {
    const bare = train([corrector({ backFocusMm: 55 }), camera(55)]);
    const loaded = apply(bare, { op: 'insert', element: part('extension', 80), before: 'corrector' });
    expect(residual(loaded)).toBe(residual(bare));
  });

  it('a host that sets the back focus is counted from its camera face', () => {
    const lens = train([part('drawer', 14.4), camera(17)]);
    const asking = { ...lens, host: { ...lens.host, corrector: { backFocusMm: 31, toleranceMm: 0.05 } } };
    expect(residual(asking)).toBeCloseTo(0.4, 12);
    expect(checkTrain(asking).verdict).toBe('long');
  });
});

describe('one back focus from three planes', () => {
  const face = (lengthMm?: number): Port => ({
    ...{ thread: 'M48x0.75', gender: 'male' },
    ...(lengthMm === undefined ? {} : { lengthMm })
  });

  it('67.7 from the shoulder is 63.2 from the tip of a thread of 4.5; 69.2 from a vertex 1.5 deep is both (handbook §2)', () => {
    expect(countedFrom('thread-tip', { backFocusMm: 67.7 }, face(4.5))).toBeCloseTo(63.2, 9);
    expect(countedFrom('shoulder', { backFocusMm: 63.2, datum: 'thread-tip' }, face(4.5))).toBeCloseTo(67.7, 9);
    const vertex = { backFocusMm: 69.2, datum: 'last-surface', datumOffsetMm: 1.5 } as const;
    expect(countedFrom('shoulder', vertex, face(4.5))).toBeCloseTo(67.7, 9);
    expect(countedFrom('thread-tip', vertex, face(4.5))).toBeCloseTo(63.2, 9);
  });

  it('is not known where what lies between the planes is not', () => {
    expect(countedFrom('thread-tip', { backFocusMm: 67.7 }, face())).toBeUndefined();
    expect(countedFrom('last-surface', { backFocusMm: 67.7 }, face(4.5))).toBeUndefined();
    expect(countedFrom('shoulder', { datum: 'thread-tip' }, face(4.5))).toBeUndefined();
  });
});

describe('further published figures', () => {
  const male = (lengthMm: number) => ({ camera: { thread: 'M48x0.75', gender: 'male' as const, lengthMm } });
  const conflicts = (of: Train) =>
    checkTrain(of)
      .problems.filter(({ code }) => code === 'published-conflict')
      .map(({ message, at, severity }) => ({ message, at, severity }));
  const flattener = (more: Partial<Corrector>, elements: Element[] = [], tip = 4) =>
    train([corrector({ backFocusMm: 67.7, ...more }, male(tip)), ...elements, camera(55)]);

  it('67.7 from the flange and 69.2 from a last surface 1.5 deep are the same (handbook §2, common practice)', () => {
    const published = [{ source: 'leaflet', backFocusMm: 69.2, datum: 'last-surface' as const, datumOffsetMm: 1.5 }];
    expect(conflicts(flattener({ published }))).toEqual([]);
  });

  it('are said to disagree, with source, plane and by how much; what is required does not change', () => {
    const published = [
      { source: 'shop page', backFocusMm: 67.4 },
      { source: 'leaflet', backFocusMm: 69.5, datum: 'last-surface' as const, datumOffsetMm: 1.5 }
    ];
    const made = flattener({ published });
    const [shop, leaflet] = conflicts(made);
    expect(shop).toMatchObject({ at: 'corrector', severity: 'warning' });
    expect(shop!.message).toMatch(/“shop page” states 67\.40? mm from the shoulder: 0\.30? mm shorter/);
    expect(leaflet!.message).toMatch(/“leaflet” states 69\.50? mm from the last lens surface: 0\.30? mm longer/);
    expect(checkTrain(made).required).toEqual(checkTrain(flattener({})).required);
  });

  it('a male thread apart, the datum is suspected; a filter’s shift apart, the filter (common practice, no source)', () => {
    const tip = conflicts(flattener({ published: [{ source: 'forum', backFocusMm: 63.7 }] }));
    expect(tip[0]!.message).toMatch(/measured from the thread tip/);
    const filter = part('drawer', 14, { glass: [{ thicknessMm: 3, index: 1.5 }] });
    const allowing = conflicts(flattener({ published: [{ source: 'manual', backFocusMm: 68.7 }] }, [filter]));
    expect(allowing[0]!.message).toMatch(/allows for it/);
  });

  it('a range disagrees only beyond its ends, and a tuned value settles it', () => {
    const published = [
      { source: 'a', backFocusMm: 61 },
      { source: 'b', backFocusMm: 76 }
    ];
    const range = train([corrector({ rangeMm: [60, 75], published }), camera(70)]);
    expect(conflicts(range).map(({ message }) => message.slice(0, 3))).toEqual(['“b”']);
    expect(conflicts(flattener({ published, tunedMm: 66 }))).toEqual([]);
  });

  it('one that says the same from another plane never disagrees, and one with an unknown depth cannot', () => {
    const datums = fc.constantFrom('shoulder' as const, 'thread-tip' as const, 'last-surface' as const);
    fc.assert(
      fc.property(datums, datums, fc.integer({ min: 0, max: 9000 }), (own, other, depthUm) => {
        const offset = { shoulder: 0, 'thread-tip': 4, 'last-surface': -depthUm / 1000 };
        const asks = { backFocusMm: 60 - offset[own], datum: own, datumOffsetMm: Math.abs(offset[own]) };
        const same = {
          source: 's',
          backFocusMm: 60 - offset[other],
          datum: other,
          datumOffsetMm: Math.abs(offset[other])
        };
        const { datumOffsetMm: _unknown, ...vague } = { ...same, datum: 'last-surface' as const };
        expect(conflicts(flattener({ ...asks, published: [same, vague] }))).toEqual([]);
        const off = { ...same, backFocusMm: same.backFocusMm + 0.06 };
        expect(conflicts(flattener({ ...asks, published: [off] }))).toHaveLength(1);
      })
    );
  });

  it('stand in the “why” of the figure in use', () => {
    const made = flattener({
      published: [{ source: 'leaflet', backFocusMm: 69.2, datum: 'last-surface', datumOffsetMm: 1.5 }]
    });
    const { lines } = explain(assess(made).facts, 'length.required')!;
    expect(lines[0]!.source('mm')).toMatch(/“leaflet”: 69\.20 mm from the last lens surface/);
  });
});

describe('nominal', () => {
  it('takes the table’s row for this host within 1 %, else the published value', () => {
    const byHost = [
      { focalLengthMm: 480, backFocusMm: 60 },
      { focalLengthMm: 705, backFocusMm: 58 },
      { fRatio: 5, backFocusMm: 40 }
    ];
    const at = (focalLengthMm: number) => {
      const made = train([corrector({ backFocusMm: 55, byHost }), camera(55)]);
      return checkTrain({ ...made, host: { ...made.host, focalLengthMm } }).required.nominalMm;
    };
    expect(at(700)).toBe(58);
    expect(at(690)).toBe(55);
    expect(at(500)).toBe(40);
  });

  it('counts a range as its middle, half its width as tolerance, its end still on spec', () => {
    const asks = { rangeMm: [60, 75] as [number, number] };
    const { required, verdict } = checkTrain(train([corrector({ ...asks }), camera(75)]));
    expect(required.totalMm).toBe(67.5);
    expect(required.toleranceMm).toBe(7.5);
    expect(verdict).toBe('on-spec');
    expect(checkTrain(train([corrector(asks), camera(75.001)])).verdict).toBe('long');
  });

  it('free asks for nothing', () => {
    const report = checkTrain(train([corrector({ free: true }), camera(20)]));
    expect(report.verdict).toBe('free');
    expect(report.required.totalMm).toBeNull();
    expect(report.required.toleranceMm).toBeNull();
    expect(report.residualMm).toBeNull();
    expect(report.problems.map(({ code }) => code)).not.toContain('no-datum');
  });

  it('no corrector anywhere is free with a warning, and counts from the host', () => {
    const report = checkTrain(train([part('nose', 11), camera(6.5)]));
    expect(report.verdict).toBe('free');
    expect(report.actual.totalMm).toBe(17.5);
    expect(report.problems).toContainEqual(expect.objectContaining({ severity: 'warning', code: 'no-datum' }));
  });
});

describe('tolerance', () => {
  it('follows the practice points, log-log, within its ends (common practice, no source)', () => {
    expect(toleranceByRule(4)).toBeCloseTo(0.1, 12);
    expect(toleranceByRule(6.3)).toBeCloseTo(1, 12);
    expect(toleranceByRule(Math.sqrt(4 * 6.3))).toBeCloseTo(Math.sqrt(0.1), 12);
    expect(toleranceByRule(2)).toBe(0.05);
    expect(toleranceByRule(10)).toBe(1);
  });

  it('uses the effective focal ratio and says it is a rule of thumb', () => {
    const reducer = { ...corrector({ backFocusMm: 55 }), corrector: { backFocusMm: 55, magnification: 4 / 7 } };
    const report = checkTrain(train([reducer, camera(55)]));
    expect(report.required.toleranceMm).toBeCloseTo(0.1, 9);
    expect(report.problems.map(({ code }) => code)).toContain('tolerance-rule-of-thumb');
  });

  it('equality is on spec, compared in whole micrometres', () => {
    const at = (mm: number) =>
      checkTrain(train([corrector({ backFocusMm: 55, toleranceMm: 0.3 }), camera(mm)])).verdict;
    expect(at(55.3)).toBe('on-spec');
    expect(at(55.3004)).toBe('on-spec');
    expect(at(55.301)).toBe('long');
    expect(at(54.7)).toBe('on-spec');
    expect(at(54.699)).toBe('short');
  });
});

describe('measured lengths, dials, gaps', () => {
  it('a measured length counts wherever it exists', () => {
    const ring = part('ring', 10, { measured: { lengthMm: 10.2, uncertaintyMm: 0.02 } });
    const report = checkTrain(train([corrector({ backFocusMm: 55 }), ring, camera(45)]));
    expect(report.residualMm).toBeCloseTo(0.2, 12);
    expect(report.actual.entries[0]).toEqual({ id: 'ring', mm: 10.2, from: 'measured' });
  });

  it('a dial’s answer is rounded to its step and clamped', () => {
    const dial = (stepMm?: number) =>
      part('helical', 20, { adjust: { minMm: 0, maxMm: 6, setMm: 1, ...(stepMm ? { stepMm } : {}) } });
    const at = (needs: number, stepMm?: number) =>
      checkTrain(train([corrector({ backFocusMm: 40 + needs }), dial(stepMm), camera(20)])).dial;
    expect(at(2.34)).toEqual({ id: 'helical', setMm: 2.34, reachable: true, missMm: 0 });
    expect(at(2.34, 0.1)).toEqual({ id: 'helical', setMm: 2.3, reachable: true, missMm: -0.04 });
    expect(at(6.04, 0.1)).toEqual({ id: 'helical', setMm: 6, reachable: true, missMm: -0.04 });
    expect(at(7)).toEqual({ id: 'helical', setMm: 6, reachable: false, missMm: -1 });
    expect(at(-1)).toEqual({ id: 'helical', setMm: 0, reachable: false, missMm: 1 });
  });

  it('of several dials names the one that reaches', () => {
    const of = (id: string, maxMm: number) => part(id, 10, { adjust: { minMm: 0, maxMm, setMm: 0 } });
    const report = checkTrain(train([corrector({ backFocusMm: 45 }), of('small', 2), of('large', 10), camera(20)]));
    expect(report.dial).toEqual({ id: 'large', setMm: 5, reachable: true, missMm: 0 });
  });

  it('a dial on the sky side of the datum is not asked', () => {
    const ahead = part('rotator', 10, { adjust: { minMm: 0, maxMm: 5, setMm: 0 } });
    expect(checkTrain(train([ahead, corrector({ backFocusMm: 55 }), camera(54)])).dial).toBeNull();
  });

  it('a gap counts nothing, warns, and its neighbours are not mated', () => {
    const m48 = { thread: 'M48x0.75', gender: 'male' as const, lengthMm: 3 };
    const report = checkTrain(
      train([
        corrector({ backFocusMm: 55 }, { sky: { thread: 'M63x1', gender: 'male' }, camera: m48 }),
        { id: 'gap', kind: 'gap', name: 'rings' },
        camera(55, { sky: { bayonet: 'house', gender: 'female' } })
      ])
    );
    // Its camera's sensor is not described, and that is told too.
    expect(report.problems.filter(({ code }) => code !== 'light-unknown')).toEqual([
      expect.objectContaining({ severity: 'warning', code: 'open', at: 'gap' })
    ]);
    expect(report.verdict).toBe('on-spec');
  });
});

describe('properties of the ledger', () => {
  it('adding x to any spacer moves the residual by exactly x', () => {
    fc.assert(
      fc.property(anyTrain, fc.integer({ min: -10_000, max: 10_000 }), fc.nat(), (made, micrometres, pick) => {
        const { datum } = assess(made).ledger;
        const spacers = made.elements.filter(
          (element, index) => index > datum.index && isSolid(element) && element.kind !== 'shim' && !element.measured
        );
        const spacer = spacers[pick % spacers.length]!;
        const before = residual(made);
        if (before === null || !isSolid(spacer) || spacer.lengthMm + micrometres / 1000 < 0) return;
        const to = spacer.lengthMm + micrometres / 1000;
        const moved = residual(apply(made, { op: 'set', at: spacer.id, path: ['lengthMm'], to }));
        expect(moved! - before).toBeCloseTo(micrometres / 1000, 9);
      })
    );
  });

  it('setting the dial to a reachable answer without a step leaves nothing', () => {
    fc.assert(
      fc.property(anyTrain, (made) => {
        const { dial, residualMm } = checkTrain(made);
        if (!dial?.reachable || residualMm === null) return;
        const set = apply(made, { op: 'set', at: dial.id, path: ['adjust', 'setMm'], to: dial.setMm });
        expect(residual(set)).toBeCloseTo(dial.missMm, 5);
        expect(dial.missMm).toBe(0);
      })
    );
  });

  it('every explanation’s lines combine to exactly the number it explains', () => {
    fc.assert(
      fc.property(anyTrain, (made) => {
        const { facts, report } = assess(made);
        const shown: [Subject, number | null | undefined][] = [
          ['length.actual', report.actual.totalMm],
          ['length.required', report.required.totalMm],
          ['length.residual', report.residualMm],
          ['length.tolerance', report.required.toleranceMm],
          ['length.glass', report.required.glassMm],
          ['length.dial', report.dial?.setMm],
          ['doubt.worst-case', report.uncertainty.worstCaseMm],
          ['doubt.standard', report.uncertainty.standardMm],
          ['doubt.interval', facts.spread.halfWidth95Mm],
          [
            'doubt.probability',
            report.uncertainty.probabilityInTolerance === null ? null : 100 * report.uncertainty.probabilityInTolerance
          ],
          ...report.slots.map(({ slot, id, requiredMm }): [Subject, number | null] => [
            `length.slot.${slot}@${id}`,
            requiredMm
          ]),
          ...report.actual.entries.map(({ id }): [Subject, number] => [
            `length.part.${id}`,
            report.actual.entries.filter((entry) => entry.id === id).reduce((sum, { mm }) => sum + mm, 0)
          ])
        ];
        for (const [subject, number] of shown) {
          const why = explain(facts, subject);
          if (number === null || number === undefined) {
            expect(why).toBeUndefined();
            continue;
          }
          expect(why?.result.value).toBeCloseTo(number, 12);
          const together = combined(why!);
          if (together !== undefined) expect(together).toBeCloseTo(number, 9);
        }
      })
    );
  });
});

describe('what is not asked for', () => {
  const codesOf = (made: Train): string[] => checkTrain(made).problems.map(({ code }) => code);

  it('has no datum that could be unknown', () => {
    expect(codesOf(train([corrector({ free: true, datum: 'thread-tip' }), camera(55)]))).not.toContain(
      'datum-offset-unknown'
    );
    expect(codesOf(train([corrector({ backFocusMm: 55, datum: 'thread-tip' }), camera(55)]))).toContain(
      'datum-offset-unknown'
    );
  });

  it('is not missed where a tuned value is in use', () => {
    const table = { byHost: [{ focalLengthMm: 12_345, backFocusMm: 70 }] };
    expect(codesOf(train([corrector({ ...table, tunedMm: 55 }), camera(55)]))).not.toContain('no-datum');
    expect(codesOf(train([corrector(table), camera(55)]))).toContain('no-datum');
  });
});

describe('next step', () => {
  const step = (made: Train) => nextStep(assess(made), 'mm');

  it('mends what does not screw together before it talks of length', () => {
    const made = train([
      corrector({ backFocusMm: 55 }, { camera: { thread: 'M48x0.75', gender: 'male', lengthMm: 4 } as never }),
      camera(57, { sky: { thread: 'M42x0.75', gender: 'female', lengthMm: 5 } as never })
    ]);
    expect(step(made)).toMatchObject({ at: 'camera' });
    expect(step(made).sentence).toMatch(/M48/);
  });

  it('offers to take out only what has been tried: a part that joins two others has to stay', () => {
    const male = (thread: string) => ({ thread, gender: 'male', lengthMm: 4 }) as never;
    const female = (thread: string) => ({ thread, gender: 'female', lengthMm: 5 }) as never;
    const nose = (below: string) =>
      train([
        corrector({ backFocusMm: 55 }, { camera: male('M48x0.75') }),
        part('nose', 2, { removable: true, sky: female('M48x0.75'), camera: male(below) }),
        camera(55, { sky: female(below) })
      ]);
    expect(step(nose('M48x0.75'))).toMatchObject({ operation: { op: 'remove', id: 'nose' } });
    expect(step(nose('M42x0.75')).operation).toBeUndefined();
  });

  it('sets a dial that reaches', () => {
    const dial = { adjust: { minMm: 0, maxMm: 15, setMm: 0 } };
    const made = train([corrector({ backFocusMm: 56.8 }, dial), camera(54)]);
    const next = step(made);
    expect(next.sentence).toContain('2.80 mm');
    expect(checkTrain(apply(made, next.operation!)).verdict).toBe('on-spec');
  });

  it('says by how much a dial misses, and takes a nose off first where that mends it (handbook §2)', () => {
    const dial = { adjust: { minMm: 0, maxMm: 15, setMm: 0 }, name: 'Flattener' };
    const beyond = train([corrector({ backFocusMm: 56.8 }, dial), camera(39.5)]);
    expect(step(beyond)).toMatchObject({
      sentence: 'Set Flattener to 15.00 mm: that leaves it 2.30 mm short.',
      at: 'corrector'
    });
    const long = train([corrector({ backFocusMm: 55 }, dial), part('nose', 11, { removable: true }), camera(55)]);
    expect(step(long)).toMatchObject({ operation: { op: 'remove', id: 'nose' } });
    expect(nextStep(assess(beyond), 'in').sentence).toContain('0.5906 in');
  });

  it('has nothing to do on spec, and any length will do where none is asked for', () => {
    const rings = { sky: { thread: 'M48x0.75', gender: 'female' as const, lengthMm: 5 } };
    const male = { camera: { thread: 'M48x0.75', gender: 'male' as const, lengthMm: 4 } };
    const host = { thread: 'M48x0.75', gender: 'female' as const, lengthMm: 9 };
    const sky = { thread: 'M48x0.75', gender: 'male' as const, lengthMm: 4 };
    const made = train([corrector({ backFocusMm: 55 }, { sky, ...male }), camera(55, rings)]);
    expect(step({ ...made, host: { ...made.host, camera: host } }).sentence).toBe('Nothing is left to do here.');
    const free = train([corrector({ free: true }, { sky, ...male }), camera(55, rings)]);
    expect(step({ ...free, host: { ...free.host, camera: host } }).sentence).toBe(
      'Any length that reaches focus will do.'
    );
    expect(step(train([corrector({ backFocusMm: 50 }), camera(55)])).sentence).toBe('Remove 5.00 mm.');
    expect(step(train([corrector({ backFocusMm: 60 }), camera(55)])).sentence).toBe(
      'Add 5.00 mm of length at a joint.'
    );
  });

  it('takes a removable nose off when that mends it', () => {
    const made = train([corrector({ backFocusMm: 55 }), part('nose', 11, { removable: true }), camera(55)]);
    expect(checkTrain(apply(made, step(made).operation!)).verdict).toBe('on-spec');
  });

  it('says how much to add, and where a gap stands for it', () => {
    const gap = { id: 'gap', kind: 'gap' as const, name: 'rings' };
    const made = train([corrector({ backFocusMm: 55 }), gap, camera(50)]);
    expect(step(made)).toMatchObject({ at: 'gap', sentence: expect.stringContaining('5.00 mm') });
  });

  it('tells the worst problem once the length is right', () => {
    const sky = { thread: 'M42x1', gender: 'female' as const, lengthMm: 5 };
    const male = { camera: { thread: 'M42x0.75', gender: 'male' as const, lengthMm: 4 } };
    const made = train([corrector({ backFocusMm: 55 }, male), camera(55, { sky })]);
    expect(step(made)).toMatchObject({ at: 'camera', sentence: expect.stringContaining('pitch') });
  });
});
