import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { checkTrain } from '../src/check/index.ts';
import {
  engagement,
  threadPair,
  fitAt,
  isSuchAdapter,
  jointAperture,
  jointOpening,
  jointsOf,
  mate,
  parseThread,
  turnedRound
} from '../src/joint/index.ts';
import type { Port } from '../src/train/index.ts';
import { camera, corrector, part, train } from './trains.ts';

const male = (thread: string, lengthMm?: number): Port => ({
  thread,
  gender: 'male',
  ...(lengthMm === undefined ? {} : { lengthMm })
});
const female = (thread: string, lengthMm?: number): Port => ({ ...male(thread, lengthMm), gender: 'female' }) as Port;

describe('thread designations', () => {
  it.each([
    ['M48x0.75', 48, 0.75],
    ['m48×0.75', 48, 0.75],
    [' M 42 x 1 ', 42, 1],
    ['M42x0,75', 42, 0.75],
    ['T2', 42, 0.75],
    ['2"-24 UN', 50.8, 25.4 / 24],
    ['3.25in-16 UN', 82.55, 25.4 / 16],
    ['1″-32 UN', 25.4, 25.4 / 32]
  ])('%s', (text, diameterMm, pitchMm) => {
    expect(parseThread(text)).toMatchObject({ diameterMm, pitchMm });
  });

  it.each(['M42', 'T2?', '', 'M0x0.75', 'M42x50', 'constructor', 'M48x0.75 male'])(
    '“%s” is asked about, never guessed',
    (text) => {
      expect(parseThread(text)).toBeUndefined();
    }
  );
});

describe('mating (common practice, no source)', () => {
  const code = (sky: Port, below: Port) => {
    const mating = mate(sky, below);
    return mating.joins === false ? mating.code : mating.joins;
  };

  it.each<[string, Port, Port, unknown]>([
    ['same thread, opposite gender', male('M48x0.75'), female('M48×0.75'), true],
    ['other diameter', male('M48x0.75'), female('M54x0.75'), 'thread-diameter'],
    ['M42×1 into M42×0.75', male('M42x1'), female('M42x0.75'), 'thread-pitch'],
    ['two males', male('M48x0.75'), male('M48x0.75'), 'thread-gender'],
    ['two females', female('M48x0.75'), female('M48x0.75'), 'thread-gender'],
    ['an unreadable thread', male('M42'), female('M42x0.75'), 'unknown'],
    ['equal bayonets', { bayonet: 'dslr-44.0', gender: 'female' }, { bayonet: 'dslr-44.0', gender: 'male' }, true],
    ['other bayonet', { bayonet: 'dslr-44.0', gender: 'female' }, { bayonet: 'dslr-46.5', gender: 'male' }, 'bayonet'],
    ['bayonets of one gender', { bayonet: 'a', gender: 'male' }, { bayonet: 'a', gender: 'male' }, 'bayonet-gender'],
    ['bolts', { bolts: { count: 6, circleMm: 70 } }, { bolts: { count: 6, circleMm: 70 } }, true],
    ['other bolts', { bolts: { count: 6, circleMm: 70 } }, { bolts: { count: 4, circleMm: 70 } }, 'bolts'],
    ['slip fits', { slip: '2in', gender: 'female' }, { slip: '2in', gender: 'male' }, true],
    ['other slip', { slip: '2in', gender: 'female' }, { slip: '1.25in', gender: 'male' }, 'slip'],
    ['thread on bayonet', male('M48x0.75'), { bayonet: 'a', gender: 'female' }, 'port-kind']
  ])('%s', (_name, sky, below, expected) => {
    expect(code(sky, below)).toBe(expected);
    expect(code(below, sky)).toBe(expected);
  });
});

describe('seating', () => {
  it('opening is max(shims, L − D, 0), never their sum (handbook §3, common practice, no source)', () => {
    const mm = fc.integer({ min: 0, max: 10_000 }).map((um) => um / 1000);
    fc.assert(
      fc.property(mm, mm, fc.array(mm, { maxLength: 3 }), (maleMm, femaleMm, shimsMm) => {
        const made = train([
          corrector({ backFocusMm: 55 }, { camera: male('M48x0.75', maleMm) }),
          camera(55, { sky: female('M48x0.75', femaleMm) as never, seat: { shimsMm } })
        ]);
        const shims = shimsMm.reduce((sum, each) => sum + each, 0);
        const expected = Math.max(shims, maleMm - femaleMm, 0);
        expect(jointOpening(shims, maleMm - femaleMm)).toBe(expected);
        expect(checkTrain(made).residualMm).toBeCloseTo(expected, 9);
      })
    );
  });

  const joint = (more: object, shims: number[] = []) =>
    checkTrain(
      train([
        corrector({ backFocusMm: 55 }, { camera: male('M48x0.75', 5) }),
        ...shims.map((lengthMm, index) => ({ id: `s${index}`, kind: 'shim' as const, name: 's', lengthMm })),
        camera(55, { sky: female('M48x0.75', 4) as never, ...more })
      ])
    );

  it('a longer male thread leaves a gap of the difference', () => {
    expect(joint({}).actual.entries).toEqual([
      { id: 'camera', mm: 1, from: 'joint' },
      { id: 'camera', mm: 55, from: 'published' }
    ]);
  });

  it('a shim closes the gap the thread would leave, and is counted instead of it', () => {
    expect(joint({}, [0.4]).actual.entries.map(({ mm, from }) => [from, mm])).toEqual([
      ['shim', 0.4],
      ['joint', expect.closeTo(0.6, 12)],
      ['published', 55]
    ]);
    expect(joint({}, [1.5]).residualMm).toBeCloseTo(1.5, 12);
  });

  it('a measured opening overrides both, and a recess comes off', () => {
    expect(joint({ seat: { gapMm: 0.2, recessMm: 3 } }, [1.5]).residualMm).toBeCloseTo(-2.8, 12);
  });

  it('warns below three turns and refuses below one (common practice, no source)', () => {
    const turns = (maleMm: number, shims: number[] = []) =>
      checkTrain(
        train([
          corrector({ backFocusMm: 55 }, { sky: male('M63x1', 5), camera: male('M48x0.75', maleMm) }),
          camera(55, { sky: female('M48x0.75', 6) as never, seat: { shimsMm: shims } })
        ])
      )
        .problems.filter(({ code }) => code.startsWith('engagement'))
        .map(({ severity, code }) => `${severity} ${code}`);
    expect(turns(2.25)).toEqual([]);
    expect(turns(2.24)).toEqual(['warning engagement-low']);
    expect(turns(2.24, [1.49])).toEqual(['warning engagement-low']);
    expect(turns(2.24, [1.6])).toEqual(['error engagement-none']);
    expect(engagement(threadPair(male('M48x0.75', 5), female('M48x0.75', 4)), 0.5)).toBe(4);
  });

  it('a male that reaches glass is an error (common practice, no source)', () => {
    const at = (fromSkyMm: number) =>
      checkTrain(
        train([
          corrector({ backFocusMm: 55 }, { camera: male('M48x0.75', 5) }),
          part('filter', 6, { sky: female('M48x0.75'), glass: [{ thicknessMm: 2, fromSkyMm }] } as never),
          camera(49)
        ])
      ).problems.map(({ code }) => code);
    expect(at(4)).toContain('bottoms-on-glass');
    expect(at(5)).not.toContain('bottoms-on-glass');
  });

  it('a wrong joint is an error at its camera-side element; an unstated port only a warning', () => {
    const made = (sky?: Port) =>
      checkTrain(
        train([
          corrector({ backFocusMm: 55 }, { sky: male('M63x1', 5), camera: male('M42x1', 5) }),
          camera(55, sky ? ({ sky } as never) : {})
        ])
      ).problems.filter(({ code }) => code !== 'light-unknown');
    expect(made(female('M42x0.75', 5))).toEqual([
      expect.objectContaining({ severity: 'error', code: 'thread-pitch', at: 'camera' })
    ]);
    expect(made()).toEqual([expect.objectContaining({ severity: 'warning', code: 'port-unknown', at: 'camera' })]);
  });

  it('behind a camera lens too long a train loses infinity; too short it does not (common practice, no source)', () => {
    const behind = (lengthMm: number, kind: 'camera-lens' | 'petzval' = 'camera-lens') => {
      const made = train([camera(lengthMm)]);
      const host = { ...made.host, kind, corrector: { backFocusMm: 46.5, toleranceMm: 0.05 } };
      return checkTrain({ ...made, host }).problems.find(({ code }) => code === 'infinity-lost');
    };
    expect(behind(46.7)).toMatchObject({ severity: 'warning', at: 'host' });
    expect(behind(46.7)?.message).toContain('0.20 mm too far');
    for (const lengthMm of [46.55, 46.5, 46]) expect(behind(lengthMm)).toBeUndefined();
    expect(behind(46.7, 'petzval')).toBeUndefined();
    // A corrector behind the lens sets the back focus: then it is the corrector's spacing.
    const made = train([corrector({ backFocusMm: 40 }), camera(46.7)]);
    const report = checkTrain({ ...made, host: { ...made.host, kind: 'camera-lens' } });
    expect(report.problems.some(({ code }) => code === 'infinity-lost')).toBe(false);
  });

  it('a flattener on a flat host is an error (common practice, no source)', () => {
    const made = train([corrector({ backFocusMm: 55, flattensField: true }), camera(55)]);
    const flat = { ...made, host: { ...made.host, flatField: true } };
    expect(checkTrain(made).problems.map(({ code }) => code)).not.toContain('flattener-on-flat-host');
    expect(checkTrain(flat).problems[0]).toMatchObject({ severity: 'error', code: 'flattener-on-flat-host' });
  });
});

describe('what a joint knows beyond diameter and pitch', () => {
  const problems = (sky: Port, below: Port, shimsMm: number[] = []) =>
    checkTrain(
      train([corrector({ backFocusMm: 55 }, { camera: sky }), camera(55, { sky: below as never, seat: { shimsMm } })])
    ).problems.filter(({ at, code }) => at === 'camera' && code !== 'light-unknown');
  const codes = (...words: Parameters<typeof problems>) => problems(...words).map(({ code }) => code);

  it('the adapter that mends a refused joint closes it (every pair of ports)', () => {
    const ports: Port[] = [
      male('M48x0.75', 4),
      female('M48x0.75', 5),
      male('M42x1', 4),
      female('M42x0.75', 5),
      { bayonet: 'dslr-44.0', gender: 'female' },
      { bayonet: 'mirrorless-18.0', gender: 'female' },
      { slip: '2in', gender: 'male' },
      { bolts: { count: 6, circleMm: 70 } }
    ];
    let refused = 0;
    for (const sky of ports) {
      for (const below of ports) {
        const mating = mate(sky, below);
        if (mating.joins !== false) continue;
        refused++;
        expect(mate(sky, mating.adapter.sky).joins).toBe(true);
        expect(mate(mating.adapter.camera, below).joins).toBe(true);
        const around = mate(below, sky);
        expect(around.joins === false && around.code).toBe(mating.code);
        const ring = part('ring', 5, { sky: mating.adapter.sky, camera: mating.adapter.camera });
        expect(isSuchAdapter(ring, mating.adapter)).toBe(true);
        expect(fitAt(ring, sky, below)).toEqual({ closes: 'both', reversed: false });
      }
    }
    expect(refused).toBeGreaterThan(40);
  });

  it('turning the train round changes no answer, opening and engagement included', () => {
    const mm = fc.integer({ min: 0, max: 8000 }).map((um) => um / 1000);
    const port = fc
      .record({
        thread: fc.constantFrom('M48x0.75', 'M42x0.75', 'M42x1'),
        gender: fc.constantFrom('male' as const, 'female' as const),
        lengthMm: mm
      })
      .map((made): Port => made);
    fc.assert(
      fc.property(port, port, mm, (a, b, openingMm) => {
        const code = (mating: ReturnType<typeof mate>) => (mating.joins === false ? mating.code : mating.joins);
        expect(code(mate(a, b))).toBe(code(mate(b, a)));
        const held = (sky: Port, below: Port) => engagement(threadPair(sky, below), openingMm);
        expect(held(a, b)).toBe(held(b, a));
      })
    );
  });

  it('names lookalikes as such', () => {
    expect(problems(male('M42x1', 4), female('M42x0.75', 5))[0]?.message).toMatch(
      /same diameter, but a different pitch/
    );
    expect(problems(male('M54x0.75', 4), female('M56x1', 5))[0]?.message).toMatch(/easily taken for each other/);
  });

  it('a thread that bottoms may rock; a shim as thick as the difference cures it (handbook §3, common practice)', () => {
    expect(codes(male('M48x0.75', 5), female('M48x0.75', 4.5))).toContain('wobble');
    expect(codes(male('M48x0.75', 5), female('M48x0.75', 4.5), [0.5])).not.toContain('wobble');
    expect(codes(male('M48x0.75', 4.5), female('M48x0.75', 4.5))).not.toContain('wobble');
  });

  it('a through bore has no bottom', () => {
    const bore = { ...female('M48x0.75', 3), through: true } as Port;
    const report = checkTrain(
      train([corrector({ backFocusMm: 55 }, { camera: male('M48x0.75', 5) }), camera(55, { sky: bore as never })])
    );
    expect(report.residualMm).toBeCloseTo(0, 9);
    // But no more holds than there is thread (handbook §3: min(L − opening, D)).
    expect(engagement(threadPair(male('M48x0.75', 5), bore), 0)).toBe(3);
    const thin = { ...female('M48x0.75', 0.5), through: true } as Port;
    expect(problems(male('M48x0.75', 5), thin)).toMatchObject([{ severity: 'error', code: 'engagement-none' }]);
  });

  it('threads that never meet hold no shoulders apart (handbook §3)', () => {
    const lengthOf = (sky: Port, below: Port) =>
      checkTrain(
        train([corrector({ backFocusMm: 55 }, { camera: sky as never }), camera(55, { sky: below as never })])
      );
    for (const below of [female('M54x0.75', 1), female('M48x1', 1)]) {
      const report = lengthOf(male('M48x0.75', 4), below);
      expect(report.problems).toContainEqual(expect.objectContaining({ severity: 'error' }));
      expect(report.residualMm).toBeCloseTo(0, 9);
    }
    expect(lengthOf(male('M48x0.75', 4), female('M48x0.75', 1)).residualMm).toBeCloseTo(3, 9);
  });

  it('glass at a face is in nobody’s way where nothing is screwed in', () => {
    const clip = {
      id: 'clip',
      kind: 'filter',
      name: 'Clip-in',
      lengthMm: 0,
      glass: [{ thicknessMm: 2, fromSkyMm: 1.2 }]
    };
    const bayonet = (gender: 'male' | 'female') => ({ bayonet: 'dslr-44.0', gender });
    const made = train([
      corrector({ backFocusMm: 55 }, { camera: bayonet('female') as never }),
      { ...clip, sky: bayonet('male'), camera: bayonet('female') } as never,
      camera(55, { sky: bayonet('male') as never })
    ]);
    expect(checkTrain(made).problems.map(({ code }) => code)).not.toContain('bottoms-on-glass');
  });

  it('a 3 mm thread never crosses a 4 mm plain mouth (handbook §3, common practice)', () => {
    const mouth = (reliefMm: number) => ({ ...female('M48x0.75', 9), reliefMm }) as Port;
    expect(problems(male('M48x0.75', 3), mouth(4))).toMatchObject([{ severity: 'error', code: 'engagement-none' }]);
    expect(codes(male('M48x0.75', 8), mouth(4))).toEqual([]);
    expect(engagement(threadPair(male('M48x0.75', 8), mouth(4)), 0.5)).toBeCloseTo(3.5, 9);
  });

  it('bottoming on glass is an error, unless shims keep it off', () => {
    const onGlass = { ...female('M48x0.75', 4), endsOnGlass: true } as Port;
    expect(problems(male('M48x0.75', 4.5), onGlass)).toContainEqual(
      expect.objectContaining({ severity: 'error', code: 'bottoms-on-glass' })
    );
    expect(codes(male('M48x0.75', 4.5), onGlass, [0.5])).not.toContain('bottoms-on-glass');
    expect(codes(male('M48x0.75', 4), onGlass)).not.toContain('bottoms-on-glass');
  });

  it('a slip fit is warned about', () => {
    expect(codes({ slip: '2in', gender: 'female' }, { slip: '2in', gender: 'male' })).toEqual(['slip-fit']);
  });

  it('the narrowest part is the joint’s clear aperture, else what a male thread leaves', () => {
    const made = train([
      corrector({ backFocusMm: 55 }, { camera: male('M48x0.75', 4), clearMm: 45 }),
      camera(55, { sky: female('M48x0.75', 5) as never, clearMm: 40 })
    ]);
    expect(jointAperture(made, jointsOf(made)[1]!)).toEqual({ clearMm: 40, from: 'stated', id: 'camera' });
    const bare = train([
      corrector({ backFocusMm: 55 }, { camera: male('M48x0.75', 4) }),
      camera(55, { sky: female('M48x0.75', 5) as never })
    ]);
    const guess = jointAperture(bare, jointsOf(bare)[1]!);
    expect(guess).toMatchObject({ from: 'thread', id: 'corrector' });
    expect(guess!.clearMm).toBeLessThan(48 - 1.08 * 0.75);
  });

  it('a part turned round twice is itself', () => {
    const made = part('ring', 12, {
      sky: male('M48x0.75', 4),
      camera: female('M42x0.75', 5),
      glass: [{ thicknessMm: 2, fromSkyMm: 3 }]
    });
    expect(turnedRound(made)).toMatchObject({ sky: female('M42x0.75', 5), reversed: true, glass: [{ fromSkyMm: 7 }] });
    expect(turnedRound(turnedRound(made))).toEqual(made);
    const turning = part('guider', 16, {
      sky: { ...female('M42x0.75', 5), startDeg: 90 } as never,
      pickoff: { fromSkyMm: 6 }
    });
    // Seen from the other side a thread starts the other way round, and the prism is as far from the other face.
    expect(turnedRound(turning)).toMatchObject({ camera: { startDeg: -90 }, pickoff: { fromSkyMm: 10 } });
    expect(turnedRound(turnedRound(turning))).toEqual(turning);
  });
});

describe('order of the train (common practice, no source)', () => {
  const codes = (...parts: ReturnType<typeof part>[]) =>
    checkTrain(train([corrector({ backFocusMm: 55 }), ...parts, camera(17.5)])).problems.map(
      ({ code, at }) => `${code} ${at}`
    );

  it.each([
    [
      'a wheel ahead of the guider',
      [part('wheel', 20, { kind: 'filter-wheel' }), part('guider', 10, { kind: 'off-axis-guider' })],
      'order guider'
    ],
    ['a focuser behind the corrector', [part('focuser', 20, { kind: 'focuser' })], 'focuser-behind-corrector focuser'],
    ['a bent axis', [part('bend', 20, { bendsDeg: 90 })], 'star-diagonal bend'],
    ['a star diagonal by name', [part('bend', 20, { name: '2″ star diagonal' })], 'star-diagonal bend']
  ])('%s', (_words, parts, expected) => {
    expect(codes(...parts)).toContain(expected);
  });

  it('says nothing about the usual order', () => {
    const usual = codes(
      part('ao', 20, { kind: 'adaptive-optics' }),
      part('guider', 10, { kind: 'off-axis-guider' }),
      part('wheel', 20, { kind: 'filter-wheel' }),
      part('tilt', 5, { kind: 'tilt-plate' })
    );
    expect(usual.filter((each) => each.startsWith('order'))).toEqual([]);
  });

  it('what stands before the corrector has no order with what stands behind it', () => {
    const ahead = part('uv', 8, { kind: 'filter' });
    const made = train([
      ahead,
      corrector({ backFocusMm: 55 }),
      part('ao', 20, { kind: 'adaptive-optics' }),
      part('guider', 10, { kind: 'off-axis-guider' }),
      camera(17.5)
    ]);
    expect(checkTrain(made).problems.filter(({ code }) => code === 'order')).toEqual([]);
  });

  it('gives the reason of the pair: a guider behind a tilt plate is tilted with the camera', () => {
    const made = train([
      corrector({ backFocusMm: 55 }),
      part('tilt', 5, { kind: 'tilt-plate' }),
      part('guider', 10, { kind: 'off-axis-guider' }),
      camera(17.5)
    ]);
    const said = checkTrain(made).problems.find(({ code }) => code === 'order')?.message;
    expect(said).toContain('the camera alone');
    expect(said).not.toContain('unfiltered');
  });

  it('an uneven shim tilts by its wedge over its diameter (handbook §3, a calculation)', () => {
    const made = train([
      corrector({ backFocusMm: 55 }),
      { id: 'shim', kind: 'shim', name: 'shim', lengthMm: 0.5, wedgeMm: 0.02, outerMm: 50 },
      camera(17.5)
    ]);
    // 0.02 / 50 rad = 1.375′
    expect(checkTrain(made).problems.find(({ code }) => code === 'shim-wedge')?.message).toMatch(/1\.4′/);
  });
});
