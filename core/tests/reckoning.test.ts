import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { checkTrain } from '../src/check/index.ts';
import { readTrain, type BodyElement, type Glass, type Train } from '../src/train/index.ts';
import { train } from './trains.ts';

/**
 * The ledger reckoned a second time, from the words of the handbook (§2, §3) and of the architecture's
 * `check --json`, sharing no line with core; then compared with a check on random trains.
 */

const SODIUM_D_UM = 0.5875618;
/** SCHOTT data sheet and Malitson 1965, as the handbook §2 recalls them (from memory). */
const SELLMEIER: Record<string, [number[], number[]]> = {
  'N-BK7': [
    [1.03961212, 0.231792344, 1.01046945],
    [0.00600069867, 0.0200179144, 103.560653]
  ],
  'fused silica': [
    [0.6961663, 0.4079426, 0.8974794],
    [0.0684043 ** 2, 0.1162414 ** 2, 9.896161 ** 2]
  ]
};

/** n_d of N-BK7 (handbook §2), for glass of which nothing is said. */
const UNNAMED_INDEX = 1.5168;

function indexOf({ index, glass }: Glass): number {
  if (index !== undefined) return index;
  if (glass === undefined) return UNNAMED_INDEX;
  const [b, c] = SELLMEIER[glass]!;
  const square = SODIUM_D_UM ** 2;
  return Math.sqrt(1 + b.reduce((sum, each, at) => sum + (each * square) / (square - c[at]!), 0));
}

interface Reckoned {
  requiredMm: number | null;
  glassMm: number;
  datumMm: number;
  toleranceMm: number | null;
  actualMm: number;
  slots: Map<number, number>;
  worstCaseMm: number;
  standardMm: number;
}

const AT = 1;

/** A train made as `anyLedger` makes it: the corrector is its second element. */
interface Reading {
  uncertaintyMm?: number | undefined;
  instrument?: string | undefined;
  instrumentErrorMm?: number | undefined;
}

/** How the sky side of an element stands on what is before it. */
interface Stands {
  opening: number;
  recess: number;
  /** Its thread bottoms, and that decides the opening. */
  bottoms: boolean;
  /** What is before it sinks into it, and nothing was typed of how deep. */
  sinks: boolean;
  /** What is before it lies in its bore under a part that stands on the rim: neither adds anything. */
  settled: boolean;
}

/**
 * How every two parts seat (handbook §3), from the camera on: here a bore is always in a sky face, and what stands before
 * it goes in, as far as it is narrow enough, one ring behind the other, until something stands on the rim.
 */
function seatsOf(elements: Train['elements']): Stands[] {
  const made: Stands[] = [];
  let deep = 0;
  let rings: number[] = [];
  for (let at = elements.length - 1; at > 0; at--) {
    const [above, body] = [elements[at - 1] as BodyElement, elements[at] as BodyElement];
    const [tip, hole] = [above.camera, body.sky].map((port) => (port as { lengthMm: number }).lengthMm) as [
      number,
      number
    ];
    const { shoulder, union } = above.camera as { shoulder?: boolean; union?: boolean };
    const { shimsMm = [], recessMm, gapMm } = body.seat ?? {};
    const shims = shimsMm.reduce((sum, shim) => sum + shim, 0);
    const narrow = (above.outerMm ?? 48) <= 48;
    const goesIn = shoulder === false && narrow;
    const long = union || goesIn ? 0 : Math.max(0, tip - hole);
    let opening: number;
    let bottoms: boolean;
    let sinks = false;
    let onRim = false;
    if (deep > 0 && shoulder === false) {
      // Beside the ring in its bore, which has room for one thread only: on the ring, or, too wide, on the rim.
      const over = narrow ? 0 : Math.max(0, tip - deep);
      bottoms = over > shims;
      onRim = !narrow;
      opening = (narrow ? 0 : deep) + Math.max(shims, over);
    } else if (deep > 0 && !narrow) {
      opening = Math.max(deep + shims, long);
      bottoms = long > deep + shims;
      onRim = true;
    } else {
      opening = Math.max(shims, long);
      bottoms = long > shims;
      sinks = goesIn && deep === 0;
    }
    const stands: Stands = {
      opening: gapMm ?? opening,
      recess: recessMm ?? (sinks ? hole : 0),
      bottoms,
      sinks: sinks && recessMm === undefined,
      settled: false
    };
    made[at] = stands;
    const long1 = above.measured?.lengthMm ?? above.lengthMm;
    const into = deep > 0 ? deep : sinks ? 0 : undefined;
    if (onRim) {
      const decides = gapMm === undefined && !(bottoms && shoulder !== false);
      if (decides) for (const ring of rings) made[ring]!.settled = true;
      [deep, rings] = [0, []];
    } else if (into === undefined) [deep, rings] = [0, []];
    else {
      deep = into - (stands.opening - stands.recess) - long1;
      if (deep <= 1e-9) deep = 0;
      rings = deep === 0 ? [] : [...rings, at];
    }
  }
  return made;
}

function reckon({ host, elements, glassRule, groups }: Train): Reckoned {
  const corrector = elements[AT] as BodyElement;
  const asks = corrector.corrector!;
  const ratio = (host.focalLengthMm / host.apertureMm) * (asks.magnification ?? 1);
  const shift = (plate: Glass): number => {
    const n = indexOf(plate);
    if (glassRule === 'none') return 0;
    if (glassRule === 'third') return plate.thicknessMm / 3;
    if (glassRule !== 'marginal') return plate.thicknessMm * (1 - 1 / n);
    const angle = Math.atan(1 / (2 * ratio));
    return plate.thicknessMm * (1 - Math.cos(angle) / Math.sqrt(n * n - Math.sin(angle) ** 2));
  };

  const [from, to] = asks.rangeMm ?? [0, 0];
  let nominal = asks.rangeMm ? (from + to) / 2 : asks.backFocusMm;
  const farOff = (stated: number | undefined, own: number): number =>
    stated === undefined ? 0 : Math.abs(stated - own) / own;
  // The closest row of those within 1 % (docs/train-document.md).
  const [row] = (asks.byHost ?? [])
    .map((each) => ({
      ...each,
      off: Math.max(farOff(each.focalLengthMm, host.focalLengthMm), farOff(each.apertureMm, host.apertureMm))
    }))
    .filter(({ off }) => off <= 0.01)
    .sort((one, other) => one.off - other.off);
  if (row && !asks.rangeMm) nominal = row.backFocusMm;
  const aim = asks.tunedMm ?? (asks.free ? undefined : nominal);

  const male = corrector.camera as { lengthMm: number };
  const datumMm =
    asks.datum === 'thread-tip'
      ? (asks.datumOffsetMm ?? male.lengthMm)
      : asks.datum === 'last-surface'
        ? -asks.datumOffsetMm!
        : 0;

  const rule = 0.1 * (ratio / 4) ** (Math.log(10) / Math.log(6.3 / 4));
  // Off-axis blur grows with the square of the image height (§2).
  const sensor = (elements.at(-1) as { sensor?: { widthMm: number; heightMm: number } }).sensor;
  const half = sensor && Math.hypot(sensor.widthMm, sensor.heightMm) / 2;
  const factor = half === undefined ? 1 : Math.min(2, Math.max(0.25, (14.1 / half) ** 2));
  const byRule = Math.min(1, Math.max(0.05, rule * factor));
  const toleranceMm = asks.rangeMm && asks.tunedMm === undefined ? (to - from) / 2 : (asks.toleranceMm ?? byRule);

  let always = 0;
  const alternatives = new Map<number, number>();
  let designSlot: number | undefined;
  let actualMm = corrector.adjust?.setMm ?? 0;
  for (const plate of corrector.glass ?? []) {
    // In its rear thread, where it says nothing else: behind the lenses (§2).
    if (plate.fromSkyMm === undefined || plate.fromSkyMm >= corrector.lengthMm / 2) {
      always += plate.counted ? 0 : shift(plate);
    }
  }
  const limits: number[] = [];
  const variances: number[] = [];
  const shared = new Map<string, number>();
  const rectangle = (half: number): void => {
    limits.push(half);
    variances.push(half ** 2 / 3);
  };
  /** A reading: U is two standard uncertainties, what its instrument shares with all others is part of it (§8). */
  const reading = ({ uncertaintyMm = 0.03, instrument, instrumentErrorMm = 0 }: Reading): void => {
    const common = instrument === undefined ? 0 : instrumentErrorMm;
    const own = Math.max(0, (uncertaintyMm / 2) ** 2 - common ** 2 / 3);
    variances.push(own);
    limits.push(2 * Math.sqrt(own) + common);
    if (instrument !== undefined) shared.set(instrument, (shared.get(instrument) ?? 0) + common);
  };
  const group = (groups ?? [])[0];
  const groupAt = group && [group.from, group.to].map((id) => elements.findIndex((each) => each.id === id));
  const seats = seatsOf(elements);
  elements.slice(AT + 1).forEach((element, index) => {
    const body = element as BodyElement;
    for (const plate of body.glass ?? []) {
      // A camera's plate without a slot is its window, which its flange distance allows for (§2).
      const window =
        (plate.role ?? (body.kind === ('camera' as string) && plate.slot === undefined ? 'window' : 'filter')) ===
        'window';
      const adds = (plate.counted ?? window) ? 0 : shift(plate);
      if (plate.slot === undefined) always += adds;
      else alternatives.set(plate.slot, adds);
    }
    designSlot ??= body.designSlot;
    const at = AT + 1 + index;
    const [from, to] = groupAt ?? [-1, -1];
    const inside = at >= from! && at <= to!;
    const { shimsMm = [], recessMm, gapMm } = body.seat ?? {};
    const { opening, recess, bottoms, sinks, settled } = seats[at]!;
    if (!inside || at === from) {
      actualMm += opening - recess;
      if (gapMm === undefined) shimsMm.forEach(() => rectangle(0.02));
      // An opening or a recess that was measured is a reading with ordinary calipers.
      else reading({});
      if (recessMm) reading({});
      // A thread and a hole of which nobody says how exactly they are long: a tenth either way, each.
      if (gapMm === undefined && bottoms) [0.1, 0.1].forEach(rectangle);
      if (sinks && !settled) rectangle(0.1);
    }
    if (at === from) {
      actualMm += group!.lengthMm;
      reading(group!);
    }
    if (inside) return;
    actualMm += (body.measured?.lengthMm ?? body.lengthMm) + (body.adjust?.setMm ?? 0);
    if (seats[at + 1]?.settled) return;
    if (body.measured) reading(body.measured);
    else rectangle(body.toleranceMm ?? 0.1);
  });
  // The glass that most slots share; of equals the lowest slot's.
  const slots = [...alternatives.keys()].sort((a, b) => a - b);
  const sharing = (slot: number): number =>
    slots.filter((each) => Math.abs(alternatives.get(each)! - alternatives.get(slot)!) < 1e-6).length;
  designSlot ??= slots.toSorted((a, b) => sharing(b) - sharing(a))[0];
  const glassMm = always + (designSlot === undefined ? 0 : alternatives.get(designSlot)!);
  const allowed = asks.tunedMm === undefined ? (asks.allowedGlassMm ?? 0) : 0;
  const without = aim === undefined ? null : aim + datumMm + always - allowed;
  if (aim !== undefined && asks.uncertaintyMm && asks.tunedMm === undefined) rectangle(asks.uncertaintyMm);
  const sharedVariance = [...shared.values()].reduce((sum, half) => sum + half ** 2 / 3, 0);
  return {
    requiredMm: aim === undefined ? null : aim + datumMm + glassMm - allowed,
    glassMm,
    datumMm,
    toleranceMm: aim === undefined ? null : toleranceMm,
    actualMm,
    worstCaseMm: limits.reduce((sum, half) => sum + half, 0),
    standardMm: Math.sqrt(variances.reduce((sum, variance) => sum + variance, sharedVariance)),
    slots: new Map(slots.map((slot) => [slot, without === null ? NaN : without + alternatives.get(slot)!]))
  };
}

const hundredths = (from: number, to: number) =>
  fc.integer({ min: Math.round(from * 100), max: Math.round(to * 100) }).map((count) => count / 100);
const some = <T>(of: fc.Arbitrary<T>) => fc.option(of, { nil: undefined });

const plate: fc.Arbitrary<Glass> = fc.record(
  {
    thicknessMm: fc.constantFrom(1.8, 2, 2, 3),
    index: some(fc.constantFrom(1.46, 1.5168)),
    glass: some(fc.constantFrom('N-BK7' as const, 'fused silica' as const)),
    counted: some(fc.boolean())
  },
  { requiredKeys: ['thicknessMm'] }
) as fc.Arbitrary<Glass>;
const onlyOneIndex = (glass: Glass): Glass => (glass.index === undefined ? glass : { ...glass, glass: undefined });
const wheel = fc
  .array(plate, { minLength: 1, maxLength: 6 })
  .map((plates) => plates.map((each, at) => ({ ...onlyOneIndex(each), slot: at + 1 })));

const face = (gender: 'male' | 'female') =>
  fc
    .tuple(
      fc.constantFrom(3.5, 4, 4.5, 5, 6),
      gender === 'female' ? fc.constant({}) : fc.constantFrom({}, {}, {}, {}, { shoulder: false }, { union: true })
    )
    .map(([lengthMm, more]) => ({ thread: 'M48x0.75', gender, lengthMm, ...more }));
const seat = fc.record(
  {
    recessMm: hundredths(0, 1),
    shimsMm: fc.array(fc.constantFrom(0.1, 0.2, 0.5), { maxLength: 2 }),
    gapMm: hundredths(0, 0.5)
  },
  { requiredKeys: [] }
);
const dial = hundredths(0, 5).map((setMm) => ({ minMm: 0, maxMm: 5, setMm }));
const body = (kind: string) =>
  fc.record({
    kind: fc.constant(kind),
    // Short ones lie wholly in a bore.
    lengthMm: fc.oneof(hundredths(1, 4), hundredths(1, 25)),
    toleranceMm: some(fc.constantFrom(0.02, 0.05)),
    measured: some(
      fc
        .record({
          lengthMm: hundredths(1, 25),
          uncertaintyMm: fc.constantFrom(undefined, 0.02, 0.05),
          instrument: fc.constantFrom(undefined, 'caliper', 'other caliper')
        })
        .map((made) => (made.instrument ? { ...made, instrumentErrorMm: 0.01 } : made))
    ),
    seat: some(seat),
    sky: face('female'),
    camera: face('male'),
    outerMm: fc.constantFrom(undefined, undefined, 40, 48, 60),
    adjust: some(dial),
    glass:
      kind === 'filter-wheel'
        ? wheel
        : kind === 'spacer'
          ? fc.constant(undefined)
          : some(fc.tuple(plate.map(onlyOneIndex)))
  });

const asks = fc
  .record({
    backFocusMm: hundredths(50, 110),
    rangeMm: some(fc.tuple(hundredths(50, 70), hundredths(71, 90))),
    datum: fc.constantFrom('shoulder', 'thread-tip', 'last-surface'),
    datumOffsetMm: some(fc.constantFrom(-0.7, 1.5, 3)),
    toleranceMm: some(fc.constantFrom(0.1, 0.3)),
    magnification: some(fc.constantFrom(0.72, 0.79, 1.5)),
    tunedMm: some(hundredths(50, 110)),
    allowedGlassMm: some(fc.constantFrom(0.2, 0.7)),
    uncertaintyMm: some(fc.constantFrom(0.1, 0.5)),
    byHost: some(
      fc.constant([
        { focalLengthMm: 604, backFocusMm: 61.3 },
        { apertureMm: 115, backFocusMm: 70 }
      ])
    ),
    free: fc.constantFrom(false, false, false, true)
  })
  .map(({ backFocusMm, rangeMm, free, datum, datumOffsetMm, byHost, ...rest }) => ({
    ...rest,
    ...(free ? { free } : rangeMm ? { rangeMm } : { backFocusMm, byHost }),
    datum,
    // A thread's own length stands in where none is said; a depth has to be said, and only it may be negative.
    datumOffsetMm:
      datum === 'last-surface'
        ? (datumOffsetMm ?? 2)
        : datum === 'thread-tip' && datumOffsetMm !== -0.7
          ? datumOffsetMm
          : undefined
  }));

const anyLedger: fc.Arbitrary<Train> = fc
  .record({
    before: body('spacer'),
    corrector: body('corrector'),
    asks,
    wheel: some(body('filter-wheel')),
    between: fc.array(fc.constantFrom('spacer', 'spacer', 'filter-drawer').chain(body), { maxLength: 4 }),
    camera: body('camera'),
    apertureMm: fc.constantFrom(80, 100, 115, 203),
    focalLengthMm: fc.constantFrom(400, 600, 805, 1624),
    glassRule: some(fc.constantFrom('paraxial', 'third', 'marginal', 'none')),
    rear: some(fc.tuple(plate.map(onlyOneIndex), fc.constantFrom(undefined, 1, 24))),
    sensor: some(fc.constantFrom([13.2, 8.8], [23.4, 15.6], [36, 24])),
    together: fc.boolean()
  })
  .map((made) => {
    const { camera: _none, adjust: _dial, ...last } = made.camera;
    const elements = [
      made.before,
      {
        ...made.corrector,
        lengthMm: 25,
        seat: undefined,
        measured: undefined,
        glass: made.rear && [{ ...made.rear[0], fromSkyMm: made.rear[1] }],
        corrector: made.asks
      },
      ...(made.wheel ? [made.wheel] : []),
      ...made.between,
      { ...last, ...(made.sensor ? { sensor: { widthMm: made.sensor[0], heightMm: made.sensor[1], pixelUm: 4 } } : {}) }
    ].map((fields, index) => ({ id: `e${index}`, name: `part ${index}`, ...fields }));
    const { host } = train([]);
    const { apertureMm, focalLengthMm, glassRule } = made;
    const groups =
      made.together && elements.length > 4
        ? [
            {
              from: 'e2',
              to: 'e3',
              lengthMm: 33.3,
              uncertaintyMm: 0.04,
              instrument: 'caliper',
              instrumentErrorMm: 0.01
            }
          ]
        : undefined;
    const document = { ...train([]), host: { ...host, apertureMm, focalLengthMm }, glassRule, elements, groups };
    return JSON.parse(JSON.stringify(document)) as Train;
  });

/** Trains reckoned; by hand LODESTONE_RUNS asks for more. */
const RUNS = Number(process.env.LODESTONE_RUNS ?? 2000);

describe('a check against the ledger reckoned from the handbook’s words', () => {
  const close = (got: number | null, wanted: number | null): void => {
    if (wanted === null) expect(got).toBeNull();
    else expect(got).toBeCloseTo(wanted, 9);
  };

  it(
    'required, actual, residual, tolerance, verdict and every slot are the same',
    () => {
      fc.assert(
        fc.property(anyLedger, (made) => {
          expect(readTrain(made)).toMatchObject({ ok: true });
          const wanted = reckon(made);
          const report = checkTrain(made);
          close(report.required.totalMm, wanted.requiredMm);
          if (wanted.requiredMm !== null) {
            close(report.required.glassMm, wanted.glassMm);
            close(report.required.datumMm, wanted.datumMm);
          }
          close(report.required.toleranceMm, wanted.toleranceMm);
          close(report.actual.totalMm, wanted.actualMm);
          close(report.uncertainty.worstCaseMm, wanted.worstCaseMm);
          close(report.uncertainty.standardMm, wanted.standardMm);
          const residualMm = wanted.requiredMm === null ? null : wanted.actualMm - wanted.requiredMm;
          close(report.residualMm, residualMm);
          const um = (mm: number): number => Math.round(mm * 1000);
          expect(report.verdict).toBe(
            residualMm === null
              ? 'free'
              : Math.abs(um(residualMm)) <= um(wanted.toleranceMm!)
                ? 'on-spec'
                : residualMm > 0
                  ? 'long'
                  : 'short'
          );
          if (residualMm === null) return;
          expect(report.slots.map(({ slot }) => slot)).toEqual([...wanted.slots.keys()]);
          for (const { slot, requiredMm, residualMm: off } of report.slots) {
            close(requiredMm, wanted.slots.get(slot)!);
            close(off, wanted.actualMm - wanted.slots.get(slot)!);
          }
        }),
        { numRuns: RUNS }
      );
    },
    20_000 + 20 * RUNS
  );

  it('its entries add up to the actual length, each one once', () => {
    fc.assert(
      fc.property(anyLedger, (made) => {
        const { actual } = checkTrain(made);
        close(
          actual.entries.reduce((sum, { mm }) => sum + mm, 0),
          actual.totalMm
        );
        const named = actual.entries.map(({ id, from }) => `${id} ${from}`);
        expect(new Set(named).size).toBe(named.length);
      })
    );
  });
});
