import fc from 'fast-check';
import type { BodyElement, CameraElement, Corrector, Detachable, Element, Glass, Train } from '../src/train/index.ts';

/** A body between corrector and camera; ports are left out unless given, so that any order is a valid train. */
export const part = (id: string, lengthMm: number, more: Partial<BodyElement> = {}): BodyElement => ({
  id,
  kind: 'spacer',
  name: id,
  lengthMm,
  toleranceMm: 0.05,
  ...more
});

export const camera = (lengthMm: number, more: Partial<CameraElement> = {}): CameraElement => ({
  id: 'camera',
  kind: 'camera',
  name: 'camera',
  lengthMm,
  toleranceMm: 0.05,
  ...more
});

export const corrector = (asks: Corrector, more: Partial<BodyElement> = {}): BodyElement =>
  part('corrector', 30, { kind: 'corrector', corrector: { toleranceMm: 0.1, ...asks }, ...more });

export const train = (elements: Element[], more: Partial<Train> = {}): Train => ({
  lodestone: 'train/1',
  name: 'test',
  host: {
    name: 'host',
    kind: 'refractor',
    apertureMm: 100,
    focalLengthMm: 700,
    camera: { thread: 'M63x1', gender: 'female' }
  },
  elements,
  ...more
});

const length = (max: number) => fc.integer({ min: 0, max: max * 1000 }).map((um) => um / 1000);
const maybe = <T>(of: fc.Arbitrary<T>) => fc.option(of, { nil: undefined });

/** Drops undefined keys: a JSON document has none. */
const tidy = <T>(json: T): T => JSON.parse(JSON.stringify(json)) as T;

const thread = fc.constantFrom('M42x0.75', 'M48x0.75', 'M54x0.75', 'M42x1', 'unreadable');
const port = fc.oneof(
  fc
    .tuple(
      fc.record({ thread, gender: fc.constantFrom('male' as const, 'female' as const), lengthMm: length(8) }),
      fc.constantFrom('', '', '', 'lockRing', 'shoulder', 'union', 'through', 'endsOnGlass')
    )
    .map(([made, flag]) => {
      const own = made.gender === 'male' ? ['lockRing', 'shoulder', 'union'] : ['through', 'endsOnGlass', 'union'];
      return own.includes(flag) ? { ...made, [flag]: flag !== 'shoulder' } : made;
    }),
  fc.record({
    bayonet: fc.constantFrom('dslr-44.0', 'mirrorless-18.0'),
    gender: fc.constantFrom('male' as const, 'female' as const)
  }),
  fc.record({ bolts: fc.record({ count: fc.integer({ min: 3, max: 8 }), circleMm: fc.constantFrom(60, 70) }) }),
  fc.record({ clamp: fc.constant('dovetail'), gender: fc.constantFrom('male' as const, 'female' as const) }),
  fc.record({ slip: fc.constantFrom('2in', '1.25in'), gender: fc.constantFrom('male' as const, 'female' as const) })
);

const plate: fc.Arbitrary<Glass> = fc.record({
  thicknessMm: length(5),
  slot: maybe(fc.integer({ min: 1, max: 7 })),
  index: maybe(fc.double({ min: 1.3, max: 2, noNaN: true })),
  counted: maybe(fc.boolean()),
  role: maybe(fc.constantFrom('window' as const, 'filter' as const)),
  fromSkyMm: maybe(length(20))
}) as fc.Arbitrary<Glass>;

const piece: fc.Arbitrary<Detachable> = fc.record({
  name: fc.constantFrom('nose', 'tilt plate', 'mount'),
  lengthMm: length(20),
  on: fc.boolean(),
  face: maybe(fc.constantFrom('sky' as const, 'camera' as const)),
  under: maybe(port),
  keptAt: maybe(fc.constant('Tin 3'))
}) as fc.Arbitrary<Detachable>;

const body = fc
  .record({
    kind: fc.constantFrom('spacer', 'adapter', 'filter-wheel', 'off-axis-guider', 'rotator', 'filter', 'focuser'),
    removable: maybe(fc.boolean()),
    lengthMm: length(60),
    toleranceMm: maybe(length(0.2)),
    measured: maybe(fc.record({ lengthMm: length(60), uncertaintyMm: length(0.05) })),
    sky: maybe(port),
    camera: maybe(port),
    seat: maybe(
      fc.record(
        { recessMm: length(5), gapMm: length(2), shimsMm: fc.array(length(1), { maxLength: 3 }) },
        { requiredKeys: [] }
      )
    ),
    adjust: maybe(
      fc
        .record({ minMm: length(2), span: length(15), at: fc.double({ min: 0, max: 1, noNaN: true }) })
        .map(({ minMm, span, at }) => ({ minMm, maxMm: minMm + span, setMm: minMm + span * at }))
    ),
    glass: maybe(fc.array(plate, { maxLength: 4 })),
    detachable: maybe(fc.array(piece, { minLength: 1, maxLength: 3 }))
  })
  .map((fields) => fields as Omit<BodyElement, 'id' | 'name'>);

const between: fc.Arbitrary<Omit<Element, 'id' | 'name'>> = fc.oneof(
  { weight: 6, arbitrary: body },
  { weight: 2, arbitrary: fc.record({ kind: fc.constant('shim' as const), lengthMm: length(1) }) },
  { weight: 1, arbitrary: fc.record({ kind: fc.constant('gap' as const) }) }
);

const asks: fc.Arbitrary<Corrector> = fc.oneof(
  fc.record({
    backFocusMm: length(150),
    datum: fc.constantFrom('shoulder' as const, 'thread-tip' as const, 'last-surface' as const),
    datumOffsetMm: maybe(length(10)),
    toleranceMm: maybe(length(1)),
    tunedMm: maybe(length(150)),
    magnification: maybe(fc.double({ min: 0.5, max: 2, noNaN: true }))
  }) as fc.Arbitrary<Corrector>,
  fc.constant<Corrector>({ rangeMm: [60, 75] }),
  fc.constant<Corrector>({ free: true }),
  fc.constant<Corrector>({ byHost: [{ focalLengthMm: 700, backFocusMm: 61 }] })
);

/** Valid train documents of every shape: with and without corrector, shims, gaps, dials, glass, ports. */
export const anyTrain: fc.Arbitrary<Train> = fc
  .record({
    before: fc.array(body, { maxLength: 2 }),
    corrector: maybe(asks),
    after: fc.array(between, { maxLength: 6 }),
    cameraLength: length(60),
    rule: maybe(fc.constantFrom('paraxial' as const, 'third' as const, 'marginal' as const, 'none' as const)),
    hostAsks: maybe(asks),
    hostPieces: maybe(fc.array(piece, { minLength: 1, maxLength: 2 })),
    cameraPieces: maybe(fc.array(piece, { minLength: 1, maxLength: 2 }))
  })
  .map(({ before, corrector: own, after, cameraLength, rule, hostAsks, hostPieces, cameraPieces }) => {
    const elements = [
      ...before,
      ...(own ? [{ kind: 'corrector', lengthMm: 40, corrector: own }] : []),
      ...after,
      { kind: 'camera', lengthMm: cameraLength, ...(cameraPieces ? { detachable: cameraPieces } : {}) }
    ].map((fields, index) => ({ id: `e${index}`, name: `part ${index}`, ...fields }) as Element);
    const made = train(elements, rule ? { glassRule: rule } : {});
    const more = { ...(hostAsks ? { corrector: hostAsks } : {}), ...(hostPieces ? { detachable: hostPieces } : {}) };
    return tidy({ ...made, host: { ...made.host, ...more } });
  });
