import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { connect, type InFace, type OutFace } from '../src/finder/connect.ts';
import { checkTrain } from '../src/check/index.ts';
import { engagement, jointsOf, parseThread, threadPair } from '../src/joint/index.ts';
import type { Port, Train } from '../src/train/index.ts';
import { camera, corrector, train } from './trains.ts';

const NO_GLASS = 1e6;
const out = (port: Port | undefined, looseMm = 0): OutFace => ({ port, looseMm, glassMm: NO_GLASS });
const into = (port: Port | undefined, looseMm = 0, statedMm?: number): InFace => ({
  port,
  looseMm,
  statedMm,
  glassMm: NO_GLASS
});
const male = (lengthMm: number, more: object = {}): Port =>
  ({ thread: 'M48x0.75', gender: 'male', lengthMm, ...more }) as Port;
const female = (lengthMm: number, more: object = {}): Port =>
  ({ thread: 'M48x0.75', gender: 'female', lengthMm, ...more }) as Port;

const mm = (least: number, most: number) =>
  fc.integer({ min: least * 100, max: most * 100 }).map((hundredths) => hundredths / 100);
const anyPort: fc.Arbitrary<Port> = fc.oneof(
  fc
    .record(
      {
        thread: fc.constantFrom('M48x0.75', 'M48x0.75', 'M42x1'),
        gender: fc.constant('female' as const),
        lengthMm: mm(0, 8),
        reliefMm: mm(0, 2),
        through: fc.boolean()
      },
      { requiredKeys: ['thread', 'gender', 'lengthMm'] }
    )
    .map((made): Port =>
      made.reliefMm !== undefined && made.reliefMm > made.lengthMm ? { ...made, reliefMm: 0 } : made
    ),
  fc.record({ thread: fc.constantFrom('M48x0.75', 'M42x1'), gender: fc.constant('male' as const), lengthMm: mm(0, 8) }),
  fc.constantFrom<Port>(
    { slip: '2in', gender: 'male' },
    { slip: '2in', gender: 'female' },
    { bolts: { count: 6, circleMm: 70 } }
  )
);

/** The same joint in a train, for the check to judge. */
const jointed = (sky: Port, below: Port, shimsMm: number[], gapMm?: number): Train =>
  train([
    corrector({ backFocusMm: 55 }, { camera: sky }),
    camera(55, { sky: below as never, seat: { shimsMm, ...(gapMm === undefined ? {} : { gapMm }) } })
  ]);
const closes = (made: Train): boolean =>
  checkTrain(made).problems.every(({ severity, at }) => severity !== 'error' || at !== 'camera');
const openingOf = (made: Train): number => jointsOf(made).at(-1)!.openingMm;

describe('a connector of the finder', () => {
  it('closes plain exactly where the check finds no fault, and opens as far', () => {
    fc.assert(
      fc.property(
        anyPort,
        anyPort,
        mm(0, 1),
        fc.option(mm(0, 3), { nil: undefined }),
        (sky, below, looseMm, statedMm) => {
          const made = jointed(sky, below, looseMm > 0 ? [looseMm] : [], statedMm);
          const plain = connect(out(sky), into(below, looseMm, statedMm))?.plain;
          expect(plain !== undefined).toBe(closes(made));
          if (plain !== undefined) expect(plain / 10_000).toBeCloseTo(openingOf(made), 4);
        }
      ),
      { numRuns: 600 }
    );
  });

  it('has room for shims exactly while three turns stay engaged', () => {
    fc.assert(
      fc.property(anyPort, anyPort, mm(0, 0.5), mm(0.01, 4), (sky, below, looseMm, laidMm) => {
        const connector = connect(out(sky), into(below, looseMm));
        if (!connector) return;
        const made = jointed(sky, below, [...(looseMm > 0 ? [looseMm] : []), laidMm]);
        const joint = jointsOf(made).at(-1)!;
        const pair = threadPair(sky, below);
        const held = engagement(joint.pair, joint.openingMm);
        const pitchMm = pair && parseThread(pair.male.thread)!.pitchMm;
        const engaged = pair !== undefined && (held === undefined || held >= 3 * pitchMm! - 1e-9);
        const does = looseMm + laidMm >= joint.bottomingMm - 1e-9;
        const laid = Math.round(laidMm * 10_000);
        const most = connector.held?.most ?? connector.room;
        const least = connector.held?.least ?? 0;
        expect(laid >= least && laid <= most).toBe(engaged && does);
        if (laid >= least && laid <= most && most > 0) {
          const base = connector.held?.length ?? connector.plain!;
          expect((base + laid) / 10_000).toBeCloseTo(joint.openingMm, 4);
        }
      }),
      { numRuns: 600 }
    );
  });

  it('does not close where faces do not mate, and closes unsaid where one is not known', () => {
    expect(connect(out(male(4)), into({ thread: 'M42x1', gender: 'female', lengthMm: 5 }))).toBeUndefined();
    expect(connect(out(undefined), into(female(5)))).toMatchObject({ plain: 0, room: 0 });
  });

  it('keeps a male off glass: by shims where they can, else not at all', () => {
    const near = { ...into(female(8)), glassMm: 4 };
    // 5 long, glass at 4: a millimetre of shims spares it; 5 − 3 × 0.75 leaves room for that.
    expect(connect(out(male(5)), near)).toMatchObject({ plain: undefined, held: { least: 10_000 } });
    expect(connect(out(male(4)), near)).toMatchObject({ plain: 0 });
    expect(connect(out(male(3)), { ...near, glassMm: 0.5 })).toBeUndefined();
  });

  it('a hole that ends on glass wants shims for a thread that is too long', () => {
    expect(connect(out(male(5)), into(female(4.5, { endsOnGlass: true })))).toMatchObject({
      plain: undefined,
      held: { least: 5000 }
    });
    expect(connect(out(male(4.5)), into(female(4.5, { endsOnGlass: true })))).toMatchObject({ plain: 0 });
  });

  it('knows how wide a shim’s bore must be', () => {
    expect(connect(out(male(4)), into(female(5)))?.boreMm).toBe(48);
  });
});
