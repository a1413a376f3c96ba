import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readDrawer } from '../src/drawer/index.ts';
import { adviseOn, findStacks, filledTrain, ringFor } from '../src/finder/index.ts';
import { apply, readTrain, type Glass, type Port, type ThreadPort, type Train } from '../src/train/index.ts';
import { assess, checkTrain, nextStep } from '../src/check/index.ts';
import { drawer } from './drawer.ts';
import { camera, corrector, part, train } from './trains.ts';

/** What "within tolerance, nothing left to do" must never be said of: each a class, not a document. */

const male = (thread: string, lengthMm = 4, more: Partial<ThreadPort> = {}): Port => ({
  thread,
  gender: 'male',
  lengthMm,
  ...more
});
const female = (thread: string, lengthMm = 5, more: Partial<ThreadPort> = {}): Port => ({
  thread,
  gender: 'female',
  lengthMm,
  ...more
});
const gap = (more: object = {}) => ({ id: 'gap', kind: 'gap' as const, name: 'Rings', ...more });
const codesOf = (made: Train): string[] => checkTrain(made).problems.map(({ code }) => code);
const mm = (least: number, most: number) =>
  fc.integer({ min: least * 100, max: most * 100 }).map((hundredths) => hundredths / 100);

describe('empty places of a wheel', () => {
  it('never choose the design slot while any place holds glass, however many they are', () => {
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom(2, 3), { minLength: 1, maxLength: 3 }),
        fc.integer({ min: 1, max: 5 }),
        (filters, empty) => {
          const plates: Glass[] = [...filters, ...Array.from({ length: empty }, () => 0)].map((thicknessMm, at) => ({
            slot: at + 1,
            thicknessMm,
            index: 1.5
          }));
          const wheel = part('wheel', 20, { kind: 'filter-wheel', glass: plates });
          const { required } = checkTrain(train([corrector({ backFocusMm: 55 }), wheel, camera(35)]));
          expect(required.glassMm).toBeGreaterThan(0.6);
        }
      )
    );
  });
});

describe('a variable ring in a gap with limits', () => {
  const ring = (more: object = {}) => ({
    partId: 'V',
    kind: 'variable-spacer',
    lengthMm: 8,
    adjust: { minMm: 0, maxMm: 10, setMm: 0, ...more }
  });

  it('is set within them, or is no answer (architecture, find)', () => {
    fc.assert(
      fc.property(mm(20, 40), fc.constantFrom({}, { stepMm: 0.25 }), (asks, step) => {
        const made = train([
          corrector({ backFocusMm: asks }, { camera: male('M48x0.75') }),
          gap({ minMm: 9, maxMm: 12 }),
          camera(17.5, { sky: female('M48x0.75') as never })
        ]);
        for (const solution of findStacks(made, { unit: 'mm', parts: drawer(ring(step)) }).solutions) {
          expect(solution.gaps[0]!.mm).toBeLessThanOrEqual(12 + 1e-9);
          if (solution.pieces > 0) expect(solution.gaps[0]!.mm).toBeGreaterThanOrEqual(9 - 1e-9);
          expect(checkTrain(filledTrain(made, solution)).residualMm).toBeCloseTo(solution.residualMm!, 9);
        }
      }),
      { numRuns: 60 }
    );
  });
});

describe('through bores', () => {
  it('engage no more than they are deep', () => {
    const at = (deep: number) =>
      codesOf(
        train([
          corrector({ backFocusMm: 55 }, { camera: male('M48x0.75', 5) }),
          camera(55, { sky: female('M48x0.75', deep, { through: true }) as never })
        ])
      );
    expect(at(0.5)).toContain('engagement-none');
    expect(at(5)).not.toContain('engagement-none');
  });

  it('let a longer male come out behind, where it may meet glass or another male', () => {
    const behind = (more: object) =>
      train([
        corrector({ backFocusMm: 55 }, { camera: male('M48x0.75', 6) }),
        part('ring', 4, { sky: female('M48x0.75', 4, { through: true }), camera: female('M54x0.75') }),
        part('drawer', 20, { sky: male('M54x0.75'), camera: male('M48x0.75'), ...more }),
        camera(31, { sky: female('M48x0.75') as never })
      ]);
    expect(codesOf(behind({}))).toContain('male-emerges');
    expect(codesOf(behind({ glass: [{ thicknessMm: 2, fromSkyMm: 1 }] }))).toContain('bottoms-on-glass');
    expect(codesOf(behind({ glass: [{ thicknessMm: 2, fromSkyMm: 3 }] }))).not.toContain('bottoms-on-glass');
  });

  it('that two males enter hold their shoulders apart by what does not go in', () => {
    const ring = part('ring', 6, {
      sky: female('M48x0.75', 6, { through: true }),
      camera: female('M48x0.75', 6, { through: true })
    });
    const made = train([
      corrector({ backFocusMm: 55 }, { camera: male('M48x0.75', 4) }),
      ring,
      part('nose', 10, { sky: male('M48x0.75', 4.5), camera: male('M48x0.75') }),
      camera(39, { sky: female('M48x0.75') as never })
    ]);
    // 4 + 4.5 of thread in 6 of bore: 2.5 too much.
    expect(checkTrain(made).actual.entries).toContainEqual({ id: 'nose', mm: 2.5, from: 'joint' });
  });
});

describe('glass where nothing is screwed in', () => {
  it.each<[string, Port, Port]>([
    ['bayonets', { bayonet: 'dslr-44.0', gender: 'female' }, { bayonet: 'dslr-44.0', gender: 'male' }],
    ['slip fits', { slip: '2in', gender: 'female' }, { slip: '2in', gender: 'male' }],
    ['clamps', { clamp: 'dovetail', gender: 'female' }, { clamp: 'dovetail', gender: 'male' }]
  ])('does not break: %s', (_name, sky, below) => {
    const clip = part('clip-in', 0, {
      kind: 'filter',
      sky: below,
      camera: sky,
      glass: [{ thicknessMm: 2, fromSkyMm: 1.2, role: 'filter' }]
    });
    const made = train([corrector({ backFocusMm: 55 }, { camera: sky }), clip, camera(55, { sky: below as never })]);
    expect(codesOf(made)).not.toContain('bottoms-on-glass');
  });

  it('that is said to stand outside its part is questioned', () => {
    const drawerPart = (fromSkyMm: number) => part('d', 10, { glass: [{ thicknessMm: 3, fromSkyMm }] });
    const codes = (fromSkyMm: number) =>
      codesOf(train([corrector({ backFocusMm: 55 }), drawerPart(fromSkyMm), camera(46)]));
    expect(codes(8)).toContain('glass-outside');
    expect(codes(7)).not.toContain('glass-outside');
  });
});

describe('a joint that cannot close', () => {
  it('adds no length, whatever its threads measure', () => {
    fc.assert(
      fc.property(mm(0, 8), mm(0, 8), fc.constantFrom('M54x0.75', 'M48x1', 'M42x0.75'), (long, deep, other) => {
        const made = train([
          corrector({ backFocusMm: 55 }, { camera: male('M48x0.75', long) }),
          camera(55, { sky: female(other, deep) as never })
        ]);
        expect(checkTrain(made).actual.totalMm).toBe(55);
      })
    );
  });
});

describe('dials', () => {
  const adjust = (minMm: number, maxMm: number, stepMm?: number, setMm = minMm) => ({
    adjust: { minMm, maxMm, setMm, ...(stepMm === undefined ? {} : { stepMm }) }
  });
  const dialOf = (made: Train) => checkTrain(made).dial;

  it('the one that lands nearest is named, not the first that reaches', () => {
    const made = train([
      corrector({ backFocusMm: 55 }, adjust(0, 10, 0.5)),
      part('fine', 20, { name: 'Fine', ...adjust(0, 10, 0.01) }),
      camera(31.75)
    ]);
    expect(dialOf(made)).toMatchObject({ id: 'fine', setMm: 3.25, missMm: 0, reachable: true });
    expect(nextStep(assess(made), 'mm').sentence).toBe('Set Fine to 3.25 mm.');
  });

  it('one that is too coarse says what it leaves', () => {
    const made = train([corrector({ backFocusMm: 55 }, adjust(0, 10, 0.5)), camera(51.25)]);
    expect(nextStep(assess(made), 'mm').sentence).toMatch(/leaves it 0\.25 mm (long|short)\./);
  });

  it('two that reach only together are set together', () => {
    const made = train([
      corrector({ backFocusMm: 55 }, adjust(0, 2)),
      part('ring', 20, { name: 'Ring', ...adjust(0, 2) }),
      camera(31.5)
    ]);
    const step = nextStep(assess(made), 'mm');
    expect(step.sentence).toMatch(/^Set corrector to .* and Ring to /);
    expect(checkTrain(apply(made, step.operation!)).residualMm).toBeCloseTo(0, 6);
  });

  it('stand at marks that begin with the scale, and at both end stops', () => {
    const at = (scale: object, asks: number) =>
      dialOf(train([corrector({ backFocusMm: 50 + asks }, scale), camera(50)]))?.setMm;
    expect(at(adjust(0, 12.2, 0.5), 12.2)).toBe(12.2);
    expect(at(adjust(0.25, 12.25, 0.5), 1.25)).toBe(1.25);
    expect(at(adjust(0, 12.2, 0.5), 3.3)).toBe(3.5);
  });

  it('of a long thread with a lock ring: from closed to three turns engaged (12 mm of M68×1: 0 to 9, handbook §3)', () => {
    const made = (asks: number) =>
      train([
        corrector({ backFocusMm: asks }, { camera: male('M68x1', 12, { lockRing: true }) }),
        camera(55, { name: 'Camera', sky: female('M68x1', 12) as never })
      ]);
    expect(dialOf(made(58))).toMatchObject({ id: 'camera', setMm: 3, reachable: true, lockRing: true });
    expect(dialOf(made(66))).toMatchObject({ setMm: 9, reachable: false, missMm: -2 });
    const step = nextStep(assess(made(58)), 'mm');
    expect(step.sentence).toBe(
      'Unscrew the lock-ring thread corrector → Camera by 3.00 mm (3.0 turns; 9.00 mm stay engaged).'
    );
    expect(checkTrain(apply(made(58), step.operation!)).residualMm).toBe(0);
  });

  it('a gap and a dial: how much has to go in, not that the dial misses', () => {
    const made = train([corrector({ backFocusMm: 55 }, adjust(0, 15)), gap(), camera(35.7)]);
    expect(nextStep(assess(made), 'mm').sentence).toBe('Add 4.30 mm to 19.30 mm of spacers in “Rings”.');
  });
});

describe('a focuser behind the corrector', () => {
  it('is told with the window it leaves: 11.05 right, 9.55 to 12.55 within ±1.5 (handbook §3)', () => {
    const focuser = part('rear', 40, {
      kind: 'focuser',
      name: 'Rear focuser',
      adjust: { minMm: 0, maxMm: 30, setMm: 20 }
    });
    const made = train([corrector({ backFocusMm: 100, toleranceMm: 1.5 }), focuser, camera(48.95)]);
    const told = checkTrain(made).problems.find(({ code }) => code === 'focuser-behind-corrector');
    expect(told?.message).toContain('at 11.05 mm the spacing is right; between 9.55 mm and 12.55 mm');
    expect(told?.message).toContain('it is at 20.00 mm');
    // Where it stands is where focus is: the finder does not use it to take up length.
    expect(findStacks(made, { unit: 'mm', parts: [] }).solutions[0]?.dials).toEqual([]);
  });
});

describe('custom spacers', () => {
  const place = (asks: number, above: Port, below: Port) =>
    train([corrector({ backFocusMm: asks }, { camera: above }), gap(), camera(50, { sky: below as never })]);

  it('are refused where a thread has no room beside another, and have clearance where they have', () => {
    expect(ringFor(place(51, male('M48x0.75'), female('M48x0.75')), 'gap', { unit: 'mm', parts: [] })).toBeUndefined();
    const made = ringFor(place(60, male('M48x0.75'), female('M48x0.75')), 'gap', { unit: 'mm', parts: [] });
    expect(made?.spec).toMatchObject({
      lengthMm: 10,
      sky: { gender: 'female', lengthMm: 4.5 },
      camera: { gender: 'male', lengthMm: 4.5 }
    });
  });

  it('behind a lock ring need not take all of its thread', () => {
    const above = male('M68x1', 12, { lockRing: true });
    const made = ringFor(place(75, above, female('M68x1')), 'gap', { unit: 'mm', parts: [] });
    expect((made?.spec.sky as ThreadPort).lengthMm).toBeLessThan(12);
  });

  it('at a bayonet stand behind an adapter of the drawer', () => {
    const bayonet: Port = { bayonet: 'dslr-44.0', gender: 'female' };
    const adapter = drawer({
      partId: 'B',
      kind: 'bayonet-adapter',
      lengthMm: 3,
      sky: { bayonet: 'dslr-44.0', gender: 'male' },
      camera: male('M48x0.75')
    });
    expect(ringFor(place(70, bayonet, female('M48x0.75')), 'gap', { unit: 'mm', parts: [] })).toBeUndefined();
    const made = ringFor(place(70, bayonet, female('M48x0.75')), 'gap', { unit: 'mm', parts: adapter });
    expect(made?.spec.lengthMm).toBe(17);
    expect(made?.solution.gaps[0]!.placed.map(({ part: { partId } }) => partId)).toEqual(['B', 'made to measure']);
  });

  it('can all be made: no hole is deeper than the ring that has it', () => {
    fc.assert(
      fc.property(mm(52, 90), mm(2, 8), mm(3, 8), (asks, long, deep) => {
        const made = ringFor(place(asks, male('M48x0.75', long), female('M48x0.75', deep)), 'gap', {
          unit: 'mm',
          parts: []
        });
        if (!made) return;
        const { sky, camera: below, lengthMm } = made.spec;
        for (const face of [sky, below]) {
          if ('thread' in face && face.gender === 'female') expect(face.lengthMm!).toBeLessThanOrEqual(lengthMm - 1);
        }
        expect(
          checkTrain(filledTrain(place(asks, male('M48x0.75', long), female('M48x0.75', deep)), made.solution)).verdict
        ).toBe('on-spec');
      }),
      { numRuns: 60 }
    );
  });
});

describe('parts whose faces are not known', () => {
  it('stand behind those whose are, however near they come', () => {
    const made = train([
      corrector({ backFocusMm: 60, toleranceMm: 0.5 }, { camera: male('M48x0.75') }),
      gap(),
      camera(50, { sky: female('M48x0.75') as never })
    ]);
    const known = { partId: 'KNOWN', lengthMm: 10.05, sky: female('M48x0.75'), camera: male('M48x0.75') };
    const reading = readDrawer({
      lodestone: 'drawer/1',
      parts: [
        { partId: 'MYSTERY', kind: 'spacer', name: 'Mystery', lengthMm: 10, sky: female('M48x0.75') },
        { kind: 'spacer', name: 'Known', ...known }
      ]
    });
    const parts = reading.ok ? reading.document : [];
    for (const prefer of ['closest', 'fewest', 'likeliest'] as const) {
      const { solutions, exhausted } = findStacks(made, { unit: 'mm', parts, prefer });
      expect(exhausted).toBe(true);
      const order = solutions.map(({ gaps }) => gaps[0]!.placed.map(({ part: { partId } }) => partId).join('+'));
      expect(order.indexOf('KNOWN')).toBe(0);
      expect(order).toContain('MYSTERY');
    }
  });
});

describe('what was typed and cannot be', () => {
  const joint = (seat: object, sky = female('M48x0.75', 3)) =>
    codesOf(
      train([corrector({ backFocusMm: 55 }, { camera: male('M48x0.75', 4) }), camera(55, { sky: sky as never, seat })])
    );

  it('an opening under what the thread or the shims leave is questioned', () => {
    expect(joint({ gapMm: 0.5 })).toContain('opening-impossible');
    expect(joint({ gapMm: 1 })).not.toContain('opening-impossible');
    expect(joint({ gapMm: 0.2, shimsMm: [0.5] }, female('M48x0.75', 5))).toContain('opening-impossible');
  });

  it('a recess deeper than the part is questioned', () => {
    const made = (recessMm: number) =>
      codesOf(train([corrector({ backFocusMm: 55 }), part('ring', 3, { seat: { recessMm } }), camera(52)]));
    expect(made(5)).toContain('recess-impossible');
    expect(made(2)).not.toContain('recess-impossible');
  });
});

describe('two holders of filters', () => {
  const wheel = (id: string, slots: Glass[]) => part(id, 20, { name: id, kind: 'filter-wheel', glass: slots });
  const two = train([
    corrector({ backFocusMm: 55 }),
    wheel('colour', [{ slot: 1, name: 'Red', thicknessMm: 2 }]),
    wheel('narrow', [
      { slot: 1, name: 'Ha', thicknessMm: 3 },
      { slot: 2, thicknessMm: 0 }
    ]),
    camera(15)
  ]);

  it('are told apart in every slot, and that both count is said, with the way out', () => {
    const report = checkTrain(two);
    expect(report.slots.map(({ id, slot, name }) => `${id} ${slot} ${name}`)).toEqual([
      'colour 1 Red in colour',
      'narrow 1 Ha in narrow',
      'narrow 2 slot 2 in narrow'
    ]);
    expect(report.problems.map(({ code }) => code)).toContain('two-holders');
  });
});

describe('seats that follow from geometry (handbook §3)', () => {
  const bore = corrector({ backFocusMm: 55 }, { camera: female('M54x0.75', 8) });
  const ring = (id: string) =>
    part(id, 4, {
      sky: male('M54x0.75', 4, { shoulder: false }),
      camera: female('M48x0.75', 4)
    });
  const spacer = part('spacer', 7.5, { sky: male('M48x0.75', 3.5), camera: male('M48x0.75') });
  const behind = (...rings: ReturnType<typeof ring>[]) =>
    checkTrain(train([bore, ...rings, spacer, camera(50, { sky: female('M48x0.75') as never })])).actual.totalMm;

  it('bore 8 deep: with one ring of 4 a 7.5 spacer adds 3.5, with two it adds its 7.5', () => {
    expect(behind(ring('a')) - 50).toBeCloseTo(3.5, 9);
    expect(behind(ring('a'), ring('b')) - 50).toBeCloseTo(7.5, 9);
  });

  it('a ring of 3 whose female is 3 deep stands for 4.0 behind a male of 4, and rocks', () => {
    const made = train([
      corrector({ backFocusMm: 55 }, { camera: male('M48x0.75', 4) }),
      part('ring', 3, { sky: female('M48x0.75', 3), camera: male('M48x0.75', 4) }),
      camera(51, { sky: female('M48x0.75') as never })
    ]);
    expect(checkTrain(made).residualMm).toBe(0);
    expect(codesOf(made)).toContain('wobble');
  });

  it('a filter in the inner thread of a nose adds no length, and its glass counts', () => {
    const filter = part('filter', 8, {
      kind: 'filter',
      camera: male('M48x0.75', 2),
      glass: [{ thicknessMm: 2, index: 1.5 }]
    });
    const nose = camera(50, {
      sky: male('M54x0.75', 4, { second: { thread: 'M48x0.75', gender: 'female', lengthMm: 3 } }) as never
    });
    const made = train([corrector({ backFocusMm: 50 }, { camera: female('M54x0.75') }), filter, nose]);
    const report = checkTrain(made);
    expect(report.actual.totalMm).toBe(50);
    expect(report.required.glassMm).toBeCloseTo(2 / 3, 9);
    expect(report.problems.filter(({ severity }) => severity === 'error')).toEqual([]);
  });

  it('a ring in a bore of unknown depth is not guessed', () => {
    const open = corrector({ backFocusMm: 55 }, { camera: { thread: 'M54x0.75', gender: 'female' } });
    const made = train([open, ring('a'), spacer, camera(43.5, { sky: female('M48x0.75') as never })]);
    expect(codesOf(made)).toContain('seat-unknown');
  });

  it('a union nut and a clamp close without moving along', () => {
    const union = train([
      corrector({ backFocusMm: 55 }, { camera: male('M48x0.75', 6, { union: true }) }),
      camera(55, { sky: female('M48x0.75', 4) as never })
    ]);
    expect(checkTrain(union).residualMm).toBe(0);
    const clamp = (name: string) =>
      train([
        corrector({ backFocusMm: 55 }, { camera: { clamp: 'Dovetail 70', gender: 'male' } }),
        camera(55, { sky: { clamp: name, gender: 'female' } as never })
      ]);
    expect(assess(clamp('dovetail70')).errors).toEqual([]);
    expect(codesOf(clamp('dovetail 60'))).toContain('clamp');
  });

  it('a plain lead takes its length from what is engaged', () => {
    const at = (reliefMm: number) =>
      codesOf(
        train([
          corrector({ backFocusMm: 55 }, { camera: male('M48x0.75', 4, { reliefMm }) }),
          camera(55, { sky: female('M48x0.75', 5) as never })
        ])
      );
    expect(at(1.7)).not.toContain('engagement-low');
    expect(at(2)).toContain('engagement-low');
    expect(at(3.5)).toContain('engagement-none');
  });
});

describe('names and bolts', () => {
  it('are compared without regard to case, spaces and the inch sign', () => {
    const joined = (a: string, b: string) =>
      assess(
        train([
          corrector({ backFocusMm: 55 }, { camera: { slip: a, gender: 'female' } }),
          camera(55, { sky: { slip: b, gender: 'male' } as never })
        ])
      ).errors.map(({ say }) => say('mm'));
    expect(joined('2in', '2"')).toEqual([]);
    expect(joined('2 inch', '2″')).toEqual([]);
    expect(joined('dslr-44', 'DSLR 44.0')[0]).toMatch(/is this the same\?/);
  });

  it('three bolts go into a circle of six, not into one of four', () => {
    const joined = (count: number) =>
      assess(
        train([
          corrector({ backFocusMm: 55 }, { camera: { bolts: { count: 6, circleMm: 70 } } }),
          camera(55, { sky: { bolts: { count, circleMm: 70 } } })
        ])
      ).errors.length;
    expect([joined(3), joined(6), joined(4)]).toEqual([0, 0, 1]);
  });
});

describe('glass', () => {
  it('a camera’s window is taken as counted, and told; its filter is not (1.5 mm of n = 1.5168 asks 0.511, handbook §2)', () => {
    const made = (glass: Glass) => train([corrector({ backFocusMm: 55 }), camera(55, { glass: [glass] })]);
    const window = checkTrain(made({ thicknessMm: 1.5, index: 1.5168 }));
    expect(window.required.glassMm).toBe(0);
    expect(window.problems.map(({ code }) => code)).toContain('glass-counted');
    expect(checkTrain(made({ thicknessMm: 1.5, index: 1.5168, role: 'filter' })).required.glassMm).toBeCloseTo(
      0.511,
      3
    );
    expect(checkTrain(made({ thicknessMm: 1.5, index: 1.5168, counted: false })).required.glassMm).toBeCloseTo(
      0.511,
      3
    );
    const said = checkTrain(made({ thicknessMm: 1.5, role: 'window' }));
    expect(said.problems.map(({ code }) => code)).not.toContain('glass-counted');
  });

  it('a published figure that allows 0.2 asks for 0.2 less (handbook §2: 67.7 with a filter)', () => {
    const made = (more: object) =>
      checkTrain(train([corrector({ backFocusMm: 67.7, ...more }), part('ring', 12.9), camera(55)]));
    expect(made({}).residualMm).toBeCloseTo(0.2, 9);
    const allowing = made({ allowedGlassMm: -0.2 });
    expect(allowing.residualMm).toBeCloseTo(0, 9);
    expect(made({ allowedGlassMm: 0.2 }).required.totalMm).toBeCloseTo(67.5, 9);
    expect(made({ allowedGlassMm: 0.2, tunedMm: 67.9 }).residualMm).toBeCloseTo(0, 9);
  });

  it('left out by the rule “none” is said, with how much', () => {
    const made = train(
      [corrector({ backFocusMm: 55 }), part('f', 10, { glass: [{ thicknessMm: 3, index: 1.5 }] }), camera(45)],
      {
        glassRule: 'none'
      }
    );
    expect(checkTrain(made).required.totalMm).toBe(55);
    expect(checkTrain(made).problems.find(({ code }) => code === 'glass-left-out')?.message).toContain('1.00 mm');
  });

  it('in the corrector’s rear thread counts; ahead of its lenses it does not', () => {
    const made = (fromSkyMm?: number) =>
      checkTrain(
        train([
          corrector(
            { backFocusMm: 55 },
            { glass: [{ thicknessMm: 3, index: 1.5, ...(fromSkyMm === undefined ? {} : { fromSkyMm }) }] }
          ),
          camera(56)
        ])
      );
    expect(made().residualMm).toBeCloseTo(0, 9);
    expect(made().problems.map(({ code }) => code)).toContain('glass-behind-lenses');
    expect(made(26).required.glassMm).toBeCloseTo(1, 9);
    expect(made(1).required.glassMm).toBe(0);
  });
});

describe('the rule-of-thumb tolerance', () => {
  it('is scaled by the sensor: × 0.25 to 2, within 0.05 to 1.0 mm (architecture; common practice, no source)', () => {
    const at = (fRatio: number, diagonal: number) =>
      checkTrain(
        train(
          [
            { ...corrector({ backFocusMm: 55 }), corrector: { backFocusMm: 55 } },
            camera(55, { sensor: { widthMm: diagonal * 0.8, heightMm: diagonal * 0.6, pixelUm: 3.8 } })
          ],
          { host: { ...train([]).host, apertureMm: 100, focalLengthMm: 100 * fRatio } }
        )
      ).required.toleranceMm;
    expect(at(4, 28.2)).toBeCloseTo(0.1, 9);
    const atFive = 0.1 * (5 / 4) ** (Math.log(10) / Math.log(6.3 / 4));
    expect(at(5, 43.3)).toBeCloseTo(atFive * (14.1 / 21.65) ** 2, 9);
    expect(at(4, 8)).toBeCloseTo(0.2, 9);
    expect(at(6.3, 100)).toBeCloseTo(0.25, 9);
    expect(at(10, 28.2)).toBe(1);
    expect(at(2, 28.2)).toBe(0.05);
  });
});

describe('hosts', () => {
  const host = (more: object) => ({ host: { ...train([]).host, ...more } });
  const flattener = corrector({ backFocusMm: 55, flattensField: true });
  const big = camera(55, { sensor: { widthMm: 36, heightMm: 24, pixelUm: 4 } });

  it('a flattener on a flat host is an error, on a petzval that says nothing a question', () => {
    expect(codesOf(train([flattener, camera(55)], host({ flatField: true })))).toContain('flattener-on-flat-host');
    expect(codesOf(train([flattener, camera(55)], host({ kind: 'petzval' })))).toContain('flat-field-unknown');
    expect(codesOf(train([flattener, camera(55)], host({ kind: 'petzval', flatField: false })))).not.toContain(
      'flat-field-unknown'
    );
  });

  it('a large sensor behind a curved field that nothing flattens is told', () => {
    expect(codesOf(train([big], host({ kind: 'refractor' })))).toContain('field-curved');
    expect(codesOf(train([flattener, big], host({ kind: 'refractor' })))).not.toContain('field-curved');
    expect(codesOf(train([big], host({ kind: 'refractor', flatField: true })))).not.toContain('field-curved');
    expect(codesOf(train([camera(55)], host({ kind: 'refractor' })))).not.toContain('field-curved');
  });

  it('host and reducer that ask the same do not contradict each other (both 146.05, handbook §2)', () => {
    const made = (own: number) =>
      codesOf(train([corrector({ backFocusMm: 146.05 }), camera(146.05)], host({ corrector: { backFocusMm: own } })));
    expect(made(146.05)).not.toContain('host-corrector-unused');
    expect(made(120)).toContain('host-corrector-unused');
  });

  it('a free host whose draw tube cannot reach says so: 120 + 0.68 − 72.5 = 48 of 30 (a calculation)', () => {
    const made = train(
      [part('drawer', 55, { glass: [{ thicknessMm: 2, index: 1.5168 }] }), camera(17.5)],
      host({ kind: 'petzval', flatField: true, focuser: { travelMm: 30, focusFromRackedInMm: 120 } })
    );
    expect(checkTrain(made).problems.find(({ code }) => code === 'focus-no-outward')?.message).toContain(
      '48.18 mm out'
    );
  });

  it('a table without a row for this host is not known, and not good', () => {
    const table = { byHost: [{ focalLengthMm: 12_345, backFocusMm: 70 }] };
    const unknown = assess(train([corrector(table), camera(55)]));
    expect(unknown.isGood).toBe(false);
    expect(unknown.missing).toBe('back-focus');
    expect(assess(train([camera(55)])).isGood).toBe(true);
  });
});

describe('infrared', () => {
  it('that reaches a colour sensor is told, with where to stop it', () => {
    const made = (glass: Glass[], colour = true) =>
      codesOf(
        train([
          corrector({ backFocusMm: 55 }),
          camera(55, { glass, sensor: { widthMm: 13, heightMm: 9, pixelUm: 3, colour } })
        ])
      );
    expect(made([{ thicknessMm: 1, blocksInfrared: false }])).toContain('infrared');
    expect(made([{ thicknessMm: 1 }])).toContain('infrared-unknown');
    expect(made([{ thicknessMm: 1, blocksInfrared: true }]).some((code) => code.startsWith('infrared'))).toBe(false);
    expect(made([], false).some((code) => code.startsWith('infrared'))).toBe(false);
  });
});

describe('elements measured together', () => {
  const rings = [part('a', 10), part('b', 20, { adjust: { minMm: 0, maxMm: 5, setMm: 1 } })];
  const measured = (more: object, elements = rings) =>
    train([corrector({ backFocusMm: 55 }), ...elements, camera(24)], {
      groups: [{ from: 'a', to: 'b', lengthMm: 31.4, uncertaintyMm: 0.04, ...more }]
    });

  it('count by that measurement, dials and joints inside', () => {
    const report = checkTrain(measured({}));
    expect(report.actual.entries).toEqual([
      { id: 'a', mm: 31.4, from: 'measured' },
      { id: 'camera', mm: 24, from: 'published' }
    ]);
    expect(report.uncertainty.worstCaseMm).toBeCloseTo(0.04 + 0.05, 12);
    expect(report.dial).toBeNull();
  });

  it('count by their own lengths again once something between them has changed, and it is said', () => {
    const changed = measured({ of: ['a', 'b'] }, [rings[0]!, part('new', 2), rings[1]!]);
    expect(checkTrain(changed).actual.totalMm).toBe(10 + 2 + 20 + 1 + 24);
    expect(codesOf(changed)).toContain('group-unused');
    expect(readTrain(apply(measured({}), { op: 'remove', id: 'b' })).ok).toBe(true);
  });
});

describe('advice', () => {
  it('never says the same removal twice', () => {
    const made = train([
      corrector({ backFocusMm: 55 }, { camera: male('M48x0.75') }),
      part('ring', 5, { name: 'Ring', removable: true, sky: female('M48x0.75'), camera: male('M48x0.75') }),
      camera(55, { sky: female('M48x0.75') as never })
    ]);
    const options = { unit: 'mm' as const, parts: [] };
    const advice = adviseOn(made, options, findStacks(made, options));
    expect(advice.map(({ kind }) => kind)).toEqual(['leave-out']);
  });

  it('a bottomed thread that is the whole excess is named as such', () => {
    const made = train([
      corrector({ backFocusMm: 55 }, { camera: male('M48x0.75', 5) }),
      camera(55, { name: 'Camera', sky: female('M48x0.75', 4) as never })
    ]);
    expect(nextStep(assess(made), 'mm').sentence).toMatch(
      /use a female at least 5\.00 mm deep, or a male of at most 4\.00 mm/
    );
  });

  it('a slip fit of a good train is nothing to do', () => {
    const made = train(
      [
        corrector({ backFocusMm: 55 }, { sky: { slip: '2in', gender: 'male' }, camera: male('M48x0.75') }),
        camera(55, { sky: female('M48x0.75') as never })
      ],
      { host: { ...train([]).host, camera: { slip: '2in', gender: 'female' } } }
    );
    expect(codesOf(made)).toContain('slip-fit');
    expect(nextStep(assess(made), 'mm').sentence).toBe('Nothing is left to do here.');
  });
});
