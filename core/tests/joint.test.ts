import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { checkTrain, engagement, jointOpening, mate, parseThread, type Port } from '../src/index.ts';
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
      ).problems.map(({ severity, code }) => `${severity} ${code}`);
    expect(turns(2.25)).toEqual([]);
    expect(turns(2.24)).toEqual(['warning engagement-low']);
    expect(turns(2.24, [1.49])).toEqual(['warning engagement-low']);
    expect(turns(2.24, [1.6])).toEqual(['error engagement-none']);
    expect(engagement({ sky: male('M48x0.75', 5), camera: female('M48x0.75', 4), openingMm: 0.5 })).toBe(4);
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
      ).problems;
    expect(made(female('M42x0.75', 5))).toEqual([
      expect.objectContaining({ severity: 'error', code: 'thread-pitch', at: 'camera' })
    ]);
    expect(made()).toEqual([expect.objectContaining({ severity: 'warning', code: 'port-unknown', at: 'camera' })]);
  });

  it('a flattener on a flat host is an error (common practice, no source)', () => {
    const made = train([corrector({ backFocusMm: 55, flattensField: true }), camera(55)]);
    const flat = { ...made, host: { ...made.host, flatField: true } };
    expect(checkTrain(made).problems.map(({ code }) => code)).not.toContain('flattener-on-flat-host');
    expect(checkTrain(flat).problems[0]).toMatchObject({ severity: 'error', code: 'flattener-on-flat-host' });
  });
});
