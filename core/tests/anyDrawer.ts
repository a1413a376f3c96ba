import fc from 'fast-check';
import { readDrawer, type Part } from '../src/drawer/index.ts';

const mm = (max: number) => fc.integer({ min: 0, max: max * 1000 }).map((um) => um / 1000);
const maybe = <T>(of: fc.Arbitrary<T>) => fc.option(of, { nil: undefined });
const text = fc
  .oneof(
    fc.string({ minLength: 1, maxLength: 12, unit: 'grapheme' }),
    fc.constantFrom('Ring, "wide"', '=A1', "'x", 'two\nlines', ' padded ', 'a;b', '5', 'yes', '16,5')
  )
  .filter((made) => !/[\0\p{Surrogate}]/u.test(made) && made.trim() !== '');

const port = fc.oneof(
  fc.record(
    {
      thread: fc.constantFrom('M48x0.75', 'M48×0.75', 'T2', '2in-24 UN', 'M42', 'something odd'),
      gender: fc.constant('female' as const),
      lengthMm: mm(9),
      through: fc.boolean(),
      startDeg: fc.integer({ min: 0, max: 359 })
    },
    { requiredKeys: ['thread', 'gender'] }
  ),
  fc.record(
    {
      thread: fc.constantFrom('M42x1', 'C-mount'),
      gender: fc.constant('male' as const),
      lengthMm: mm(9),
      lockRing: fc.boolean()
    },
    { requiredKeys: ['thread', 'gender'] }
  ),
  fc.record({
    bayonet: fc.constantFrom('dslr-44.0', 'a male b'),
    gender: fc.constantFrom('male' as const, 'female' as const)
  }),
  fc.record({ slip: fc.constantFrom('2in', '1.25in'), gender: fc.constantFrom('male' as const, 'female' as const) }),
  fc.record({ bolts: fc.record({ count: fc.integer({ min: 1, max: 8 }), circleMm: fc.constantFrom(60, 70.5) }) })
);

const partDocument = fc.record(
  {
    partId: text.map((made) => made.trim().slice(0, 20)).filter((made) => /^\S(.*\S)?$/.test(made)),
    kind: fc.constantFrom('spacer', 'adapter', 'filter-wheel', 'off-axis-guider'),
    name: text,
    lengthMm: mm(100),
    toleranceMm: maybe(mm(1)),
    measured: maybe(
      fc.record(
        { lengthMm: mm(100), uncertaintyMm: mm(1), instrument: text, instrumentErrorMm: mm(1) },
        { requiredKeys: ['lengthMm'] }
      )
    ),
    sky: maybe(port),
    camera: maybe(port),
    massG: maybe(mm(500)),
    reversible: maybe(fc.boolean()),
    note: maybe(text),
    glass: maybe(fc.array(fc.record({ thicknessMm: mm(5) }), { maxLength: 2 })),
    quantity: maybe(fc.integer({ min: 1, max: 5 })),
    owned: maybe(fc.boolean()),
    price: maybe(mm(100)),
    location: maybe(fc.constantFrom('Tin 1', 'Shed / Tin 2 / Bag 1', '=odd / place')),
    state: maybe(fc.constantFrom('in-use', 'spare', 'set-aside')),
    measurements: maybe(
      fc.array(
        fc.record(
          { lengthMm: mm(100), instrument: text, date: fc.constant('2026-11-03') },
          { requiredKeys: ['lengthMm'] }
        ),
        { maxLength: 3 }
      )
    )
  },
  { requiredKeys: ['partId', 'kind', 'name', 'lengthMm'] }
);

/** Any drawer that is valid. */
export const anyDrawer: fc.Arbitrary<Part[]> = fc
  .uniqueArray(partDocument, { maxLength: 6, selector: ({ partId }) => partId })
  .map((parts) => readDrawer(JSON.parse(JSON.stringify({ lodestone: 'drawer/1', parts }))))
  .filter((reading) => reading.ok)
  .map((reading) => reading.document);
