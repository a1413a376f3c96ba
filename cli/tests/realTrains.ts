import type { BodyElement, CameraElement, Corrector, Element, Host, Port, Train } from '@lodestone/core/train';

/**
 * Trains as people build them, from the check values of the handbook and from what goes wrong in practice. Names are
 * plain words. What a check says of each is kept as text beside this file, to be read as an owner would read it.
 */

const male = (thread: string, lengthMm = 4, more: object = {}): Port => ({ thread, gender: 'male', lengthMm, ...more });
const female = (thread: string, lengthMm = 5, more: object = {}): Port => ({
  thread,
  gender: 'female',
  lengthMm,
  ...more
});
const bayonet = (name: string, gender: 'male' | 'female'): Port => ({ bayonet: name, gender });
const M48 = 'M48x0.75';
const M54 = 'M54x0.75';
const M42 = 'M42x0.75';

const idOf = (name: string): string => name.toLowerCase().replaceAll(/[^a-z0-9]+/g, '-');

const body = (
  kind: BodyElement['kind'],
  name: string,
  lengthMm: number,
  more: Partial<BodyElement> = {}
): BodyElement => ({ id: idOf(name), kind, name, lengthMm, toleranceMm: 0.05, ...more });

const ring = (lengthMm: number, more: Partial<BodyElement> = {}): BodyElement =>
  body('spacer', `Ring ${lengthMm}`, lengthMm, { sky: female(M48), camera: male(M48), ...more });

const correctorPart = (name: string, asks: Corrector, more: Partial<BodyElement> = {}): BodyElement =>
  body('corrector', name, 45, { sky: male('M63x1', 5), camera: male(M48), corrector: asks, ...more });

const cameraPart = (name: string, lengthMm: number, more: Partial<CameraElement> = {}): CameraElement => ({
  id: 'camera',
  kind: 'camera',
  name,
  lengthMm,
  toleranceMm: 0.1,
  sky: female(M48),
  sensor: { widthMm: 23.4, heightMm: 15.6, pixelUm: 3.8 },
  ...more
});

const refractor: Host = {
  name: '100 mm refractor',
  kind: 'refractor',
  apertureMm: 100,
  focalLengthMm: 700,
  camera: female('M63x1', 6)
};
const newtonian: Host = {
  ...refractor,
  name: '200 mm Newtonian',
  kind: 'newtonian',
  apertureMm: 200,
  focalLengthMm: 800
};
const schmidt: Host = {
  ...refractor,
  name: '203 mm Schmidt-Cassegrain',
  kind: 'schmidt-cassegrain',
  apertureMm: 203,
  focalLengthMm: 2032
};
const lens: Host = {
  name: '135 mm lens',
  kind: 'camera-lens',
  apertureMm: 67.5,
  focalLengthMm: 135,
  camera: bayonet('dslr-44.0', 'female'),
  corrector: { backFocusMm: 44, toleranceMm: 0.05 }
};

const make = (name: string, host: Host, elements: Element[], more: Partial<Train> = {}): Train => ({
  lodestone: 'train/1',
  name,
  host,
  elements,
  ...more
});

const gap = (more: object = {}): Element => ({ id: 'rings', kind: 'gap', name: 'Rings', ...more });
const wheelSlots = (thicknesses: readonly number[]) =>
  thicknesses.map((thicknessMm, at) => ({
    slot: at + 1,
    name:
      thicknessMm === 0 ? 'empty' : (['Luminance', 'Red', 'Green', 'Blue', 'H-alpha', 'OIII', 'SII'][at] ?? 'filter'),
    thicknessMm,
    index: 1.5168
  }));
const wheel = (thicknesses: readonly number[], more: Partial<BodyElement> = {}): BodyElement =>
  body('filter-wheel', 'Filter wheel', 20, {
    sky: female(M48),
    camera: male(M48),
    glass: wheelSlots(thicknesses),
    ...more
  });

export const REAL_TRAINS: readonly Train[] = [
  make('01 coma corrector, mirrorless body', newtonian, [
    correctorPart('Coma corrector', { backFocusMm: 55, toleranceMm: 0.5 }),
    body('bayonet-adapter', 'T-ring', 11, { sky: female(M48), camera: bayonet('dslr-44.0', 'female') }),
    body('bayonet-adapter', 'Bayonet adapter', 24, {
      sky: bayonet('dslr-44.0', 'male'),
      camera: bayonet('mirrorless-20.0', 'female')
    }),
    cameraPart('Mirrorless body', 20, { sky: bayonet('mirrorless-20.0', 'male') })
  ]),
  make('02 flattener and a T-ring one thread too many', refractor, [
    correctorPart('Flattener', { backFocusMm: 56.8, toleranceMm: 0.1, flattensField: true }),
    body('adapter', 'Step ring', 2, { sky: female(M48), camera: male(M42) }),
    body('bayonet-adapter', 'T-ring', 11, { sky: female(M42), camera: bayonet('dslr-44.0', 'female') }),
    cameraPart('DSLR', 44, { sky: bayonet('dslr-44.0', 'male') })
  ]),
  make('03 flattener with a dial', refractor, [
    correctorPart(
      'Flattener',
      { backFocusMm: 56.8, toleranceMm: 0.1, flattensField: true },
      { adjust: { minMm: 0, maxMm: 15, setMm: 0, stepMm: 0.1 } }
    ),
    body('bayonet-adapter', 'One-piece T-ring', 10, { sky: female(M48), camera: bayonet('dslr-44.0', 'female') }),
    cameraPart('DSLR', 44, { sky: bayonet('dslr-44.0', 'male') })
  ]),
  make('04 beyond the dial', refractor, [
    correctorPart(
      'Flattener',
      { backFocusMm: 56.8, toleranceMm: 0.1, flattensField: true },
      { adjust: { minMm: 0, maxMm: 15, setMm: 0 } }
    ),
    body('adapter', 'Adapter', 2, { sky: female(M48), camera: male(M48) }),
    wheel([2, 2, 2]),
    cameraPart('Cooled camera', 17.5)
  ]),
  make('05 cooled camera exactly in place', newtonian, [
    correctorPart('Coma corrector', { backFocusMm: 55, toleranceMm: 0.2 }),
    ring(21, { toleranceMm: 0.02 }),
    ring(16.5, { measured: { lengthMm: 16.5, uncertaintyMm: 0.02, instrument: 'caliper', instrumentErrorMm: 0.01 } }),
    cameraPart('Cooled camera', 17.5)
  ]),
  make('06 reducer and a long adapter', schmidt, [
    correctorPart('Reducer', { backFocusMm: 146.05, magnification: 0.7 }, { camera: male('2in-24 UN', 6) }),
    body('adapter', 'Long adapter', 91.05, { sky: female('2in-24 UN', 8), camera: male(M42) }),
    body('bayonet-adapter', 'T-ring', 11, { sky: female(M42), camera: bayonet('dslr-44.0', 'female') }),
    cameraPart('DSLR', 44, { sky: bayonet('dslr-44.0', 'male') })
  ]),
  make(
    '07 corrector 64 with a recessed ring, t/3',
    refractor,
    [
      correctorPart('Corrector', { backFocusMm: 64, toleranceMm: 0.2, flattensField: true }),
      ring(7.5),
      body('adapter', 'Recessed adapter', 12, { sky: female(M48), camera: male(M48), seat: { recessMm: 3.5 } }),
      body('filter-drawer', 'Filter drawer', 29, {
        sky: female(M48),
        camera: male(M48),
        glass: [{ name: 'Light pollution filter', thicknessMm: 3 }]
      }),
      cameraPart('Cooled camera', 17.5)
    ],
    { glassRule: 'third' }
  ),
  make('08 tuned value three and a half over the published', schmidt, [
    correctorPart('Reducer', { backFocusMm: 105, magnification: 0.7, tunedMm: 108.5, toleranceMm: 0.5 }),
    body('adapter', 'Adapter 50', 50, { sky: female(M48), camera: male(M48) }),
    ring(16.5),
    ring(7.5, { seat: { recessMm: 4 } }),
    body('filter-drawer', 'Filter drawer', 21, { sky: female(M48), camera: male(M48) }),
    body('adapter', 'Nose', 11, { sky: female(M48), camera: male(M48), removable: true }),
    cameraPart('Cooled camera', 6.5)
  ]),
  make('09 two published figures for one flattener', refractor, [
    correctorPart('Flattener', {
      backFocusMm: 67.7,
      toleranceMm: 0.3,
      flattensField: true,
      published: [{ source: 'leaflet', backFocusMm: 67.7, datum: 'last-surface', datumOffsetMm: 1.5 }]
    }),
    ring(12.9),
    body('bayonet-adapter', 'T-ring', 11, { sky: female(M48), camera: bayonet('dslr-44.0', 'female') }),
    cameraPart('DSLR', 44, { sky: bayonet('dslr-44.0', 'male') })
  ]),
  make('10 a figure that already allows for the filter', refractor, [
    correctorPart('Flattener', { backFocusMm: 55.2, allowedGlassMm: 0.2, toleranceMm: 0.3, flattensField: true }),
    ring(18.2),
    wheel([2, 2, 2, 2]),
    cameraPart('Cooled camera', 17.5)
  ]),
  make('11 a wheel half empty', refractor, [
    correctorPart('Flattener', { backFocusMm: 55, toleranceMm: 0.3, flattensField: true }),
    ring(17.5),
    wheel([2, 2, 0, 0, 0]),
    cameraPart('Cooled camera', 17.5)
  ]),
  make('12 a filter of another thickness in the last slot', refractor, [
    correctorPart('Flattener', { backFocusMm: 55, toleranceMm: 0.2, flattensField: true }),
    ring(18.18),
    wheel([2, 2, 2, 2, 3]),
    cameraPart('Cooled camera', 17.5)
  ]),
  make('13 same diameter, other pitch', refractor, [
    correctorPart('Flattener', { backFocusMm: 55, flattensField: true }, { camera: male('M42x1') }),
    ring(37.5, { sky: female(M42), camera: male(M42) }),
    cameraPart('Cooled camera', 17.5, { sky: female(M42) })
  ]),
  make('14 two males', refractor, [
    correctorPart('Flattener', { backFocusMm: 55, flattensField: true }),
    ring(37.5, { sky: male(M48), camera: male(M48), reversible: true }),
    cameraPart('Cooled camera', 15)
  ]),
  make('15 the thread is longer than its hole', refractor, [
    correctorPart('Flattener', { backFocusMm: 55, toleranceMm: 0.2, flattensField: true }, { camera: male(M48, 5) }),
    ring(37.5, { sky: female(M48, 4) }),
    cameraPart('Cooled camera', 17.5)
  ]),
  make('16 hardly a turn engaged', refractor, [
    correctorPart('Flattener', { backFocusMm: 55.8, toleranceMm: 0.2, flattensField: true }, { camera: male(M48, 2) }),
    ring(37.5, { seat: { shimsMm: [0.5, 0.3] } }),
    cameraPart('Cooled camera', 17.5)
  ]),
  make('17 a thread that would break the filter', refractor, [
    correctorPart('Flattener', { backFocusMm: 55, toleranceMm: 0.3, flattensField: true }, { camera: male(M48, 6) }),
    body('filter-drawer', 'Thin drawer', 14, {
      sky: female(M48, 7),
      camera: male(M48),
      glass: [{ name: 'UV/IR cut', thicknessMm: 2, fromSkyMm: 5 }]
    }),
    ring(24),
    cameraPart('Cooled camera', 17.5)
  ]),
  make('18 a long thread with a lock ring, three short', refractor, [
    correctorPart(
      'Flattener',
      { backFocusMm: 58, toleranceMm: 0.2, flattensField: true },
      { camera: male('M68x1', 12, { lockRing: true }) }
    ),
    body('adapter', 'Wide adapter', 37.5, { sky: female('M68x1', 12), camera: male(M48) }),
    cameraPart('Cooled camera', 17.5)
  ]),
  make('19 guider behind the filters', refractor, [
    correctorPart('Flattener', { backFocusMm: 55, toleranceMm: 0.7, flattensField: true }),
    wheel([2, 2, 2]),
    body('off-axis-guider', 'Off-axis guider', 17.5, { sky: female(M48), camera: male(M48) }),
    cameraPart('Cooled camera', 17.5)
  ]),
  make('20 a lens with a sensor too far back', lens, [
    body('bayonet-adapter', 'Lens adapter', 7, { sky: bayonet('dslr-44.0', 'male'), camera: male(M54) }),
    wheel([2, 2], { sky: female(M54), camera: male(M54) }),
    cameraPart('Cooled camera', 18.5, { sky: female(M54) })
  ]),
  make('21 a lens with rings still to be found', lens, [
    body('bayonet-adapter', 'Lens adapter', 2, { sky: bayonet('dslr-44.0', 'male'), camera: male(M54) }),
    gap(),
    wheel([3], { sky: female(M54), camera: male(M54) }),
    cameraPart('Cooled camera', 17.5, { sky: female(M54) })
  ]),
  make(
    '22 a petzval without a corrector',
    {
      ...refractor,
      name: 'Petzval',
      kind: 'petzval',
      flatField: true,
      focuser: { travelMm: 30, focusFromRackedInMm: 120 }
    },
    [
      body('adapter', 'Adapter', 20, { sky: male('M63x1', 5), camera: male(M48) }),
      body('filter-drawer', 'Filter drawer', 35, {
        sky: female(M48),
        camera: male(M48),
        glass: [{ name: 'UV/IR cut', thicknessMm: 2 }]
      }),
      cameraPart('Cooled camera', 17.5)
    ]
  ),
  make('23 a flattener on a host that is flat', { ...refractor, name: 'Flat-field refractor', flatField: true }, [
    correctorPart('Flattener', { backFocusMm: 55, toleranceMm: 0.5, flattensField: true }),
    ring(37.5),
    cameraPart('Cooled camera', 17.5)
  ]),
  make('24 a rear focuser with a scale', schmidt, [
    correctorPart('Reducer', { backFocusMm: 105, magnification: 0.7, toleranceMm: 1.5 }),
    body('focuser', 'Rear focuser', 55, {
      sky: female(M48),
      camera: male(M48),
      adjust: { minMm: 0, maxMm: 30, setMm: 20 }
    }),
    ring(21.45),
    cameraPart('Cooled camera', 17.5)
  ]),
  make('25 a colour camera on a bare refractor', refractor, [
    body('adapter', 'Nose', 40, { sky: male('M63x1', 5), camera: male(M48) }),
    cameraPart('Colour camera', 17.5, {
      sensor: { widthMm: 36, heightMm: 24, pixelUm: 3.76, colour: true },
      glass: [{ name: 'window', thicknessMm: 2, blocksInfrared: false }]
    })
  ]),
  make(
    '26 rings measured together',
    refractor,
    [
      correctorPart('Flattener', { backFocusMm: 55, toleranceMm: 0.3, flattensField: true }),
      ring(16.5),
      ring(21),
      cameraPart('Cooled camera', 17.5)
    ],
    {
      groups: [
        {
          from: 'ring-16-5',
          to: 'ring-21',
          lengthMm: 37.58,
          uncertaintyMm: 0.03,
          instrument: 'caliper',
          instrumentErrorMm: 0.02
        }
      ]
    }
  ),
  make('27 back focus from a last surface of unknown depth', refractor, [
    correctorPart('Flattener', { backFocusMm: 55, datum: 'last-surface', toleranceMm: 0.3, flattensField: true }),
    ring(37.5),
    cameraPart('Cooled camera', 17.5)
  ]),
  make('28 a ring that sinks into a bore of unknown depth', refractor, [
    correctorPart('Flattener', { backFocusMm: 55, toleranceMm: 0.3, flattensField: true }),
    body('adapter', 'Bored adapter', 30, { sky: female(M48), camera: { thread: M48, gender: 'female' }, outerMm: 60 }),
    body('spacer', 'Inner ring', 8, { sky: male(M48, 8, { shoulder: false }), camera: female(M42) }),
    cameraPart('Cooled camera', 17.5, { sky: male(M42, 3.5), outerMm: 78 })
  ]),
  make('29 a gap that must hold a drawer', refractor, [
    correctorPart('Flattener', { backFocusMm: 55, toleranceMm: 0.3, flattensField: true }),
    gap({ name: 'Filter drawer to come', minMm: 15 }),
    ring(37.5),
    cameraPart('Cooled camera', 17.5)
  ]),
  make('30 two rings side by side in one bore', refractor, [
    correctorPart('Flattener', { backFocusMm: 55, toleranceMm: 0.3, flattensField: true }),
    body('adapter', 'Bored adapter', 37.5, { sky: female(M48), camera: female(M48, 8), outerMm: 60 }),
    body('spacer', 'Inner ring A', 4, { sky: male(M48, 4, { shoulder: false }), camera: female(M42, 3.5) }),
    body('spacer', 'Inner ring B', 4, { sky: male(M48, 4, { shoulder: false }), camera: female(M42, 3.5) }),
    cameraPart('Cooled camera', 17.5, { sky: male(M42, 3), outerMm: 78 })
  ]),
  make('31 a wide camera over a ring deep in its bore', refractor, [
    correctorPart('Flattener', { backFocusMm: 55, toleranceMm: 0.3, flattensField: true }),
    body('adapter', 'Bored adapter', 37.5, { sky: female(M48), camera: female(M48, 8), outerMm: 60 }),
    body('spacer', 'Inner ring', 4, { sky: male(M48, 4, { shoulder: false }), camera: female(M42, 3.5) }),
    cameraPart('Cooled camera', 17.5, { sky: male(M42, 3), outerMm: 78 })
  ]),
  make('32 a Schmidt-Cassegrain, reducer, full frame', schmidt, [
    correctorPart(
      'Reducer',
      { backFocusMm: 105, magnification: 0.7, toleranceMm: 1, flattensField: true },
      { clearMm: 46 }
    ),
    body('extension-tube', 'Adapter 67.5', 67.5, { sky: female(M48), camera: male(M48), clearMm: 46 }),
    wheel([2, 2, 2, 2], { clearMm: 46, glass: wheelSlots([2, 2, 2, 2]).map((plate) => ({ ...plate, clearMm: 46 })) }),
    cameraPart('Full-frame camera', 17.5, { sensor: { widthMm: 36, heightMm: 24, pixelUm: 3.76 } })
  ]),
  make('33 a filter that is not pushed home', refractor, [
    correctorPart('Flattener', { backFocusMm: 55, toleranceMm: 0.5, flattensField: true }),
    body('filter-drawer', 'Filter drawer', 37.5, {
      sky: female(M48),
      camera: male(M48),
      glass: [{ name: 'Luminance', thicknessMm: 2, clearMm: 34, decentreMm: [3, 2] }]
    }),
    cameraPart('Cooled camera', 17.5)
  ]),
  make('34 filters of which only the format is stated', refractor, [
    correctorPart('Flattener', { backFocusMm: 55, toleranceMm: 0.5, flattensField: true }),
    wheel([2, 2, 2], { lengthMm: 37.5, holder: { slots: 5, format: '36 mm' } }),
    cameraPart('Cooled camera', 17.5)
  ]),
  make('35 a guider behind a gap', refractor, [
    correctorPart('Flattener', { backFocusMm: 66, toleranceMm: 0.3, flattensField: true }),
    gap(),
    body('off-axis-guider', 'Guider', 16, {
      sky: female(M48),
      camera: male(M48),
      pickoff: {
        fromSkyMm: 4,
        sideMm: 8,
        innerEdgeMm: 18,
        guideFocus: { minMm: 25, maxMm: 40 },
        guideCamera: { name: 'Guide camera', flangeMm: 12.5 }
      }
    }),
    gap({ id: 'rings-2', name: 'Rings behind the guider', maxMm: 10 }),
    cameraPart('Cooled camera', 17.5)
  ]),
  make('36 a colour camera whose clear filter passes infrared', newtonian, [
    correctorPart('Coma corrector', { backFocusMm: 55, toleranceMm: 0.5 }),
    wheel([2, 2], {
      lengthMm: 37.5,
      glass: [
        { slot: 1, name: 'UV/IR cut', thicknessMm: 2, clearMm: 46, blocksInfrared: true },
        { slot: 2, name: 'Clear', thicknessMm: 2, clearMm: 46, blocksInfrared: false }
      ]
    }),
    cameraPart('Colour camera', 17.5, {
      sensor: { widthMm: 23.4, heightMm: 15.6, pixelUm: 3.8, colour: true },
      glass: [{ name: 'window', thicknessMm: 2, blocksInfrared: false }]
    })
  ]),
  make('37 a lens whose sensor stands too near', { ...lens, nearLimitMm: 900 }, [
    body('bayonet-adapter', 'Adapter', 26, { sky: bayonet('dslr-44.0', 'male'), camera: male(M48), toleranceMm: 0.02 }),
    cameraPart('Cooled camera', 17.5)
  ]),
  make(
    '38 a focuser that carries too much',
    { ...refractor, focuser: { maxLoadKg: 1, travelMm: 80, focusFromRackedInMm: 170 } },
    [
      correctorPart('Flattener', { backFocusMm: 55, toleranceMm: 0.3, flattensField: true }, { massG: 450 }),
      ring(37.5, { massG: 120 }),
      cameraPart('Cooled camera', 17.5, { massG: 750 })
    ]
  ),
  make('39 host and reducer state different back focuses', { ...schmidt, corrector: { backFocusMm: 127 } }, [
    correctorPart('Reducer', { backFocusMm: 105, magnification: 0.7, toleranceMm: 1, flattensField: true }),
    ring(87.5),
    cameraPart('Cooled camera', 17.5)
  ]),
  make('40 a reducer of which nobody says whether it flattens', { ...schmidt, flatField: true }, [
    correctorPart('Reducer', { backFocusMm: 105, magnification: 0.7, toleranceMm: 1 }),
    ring(87.5),
    cameraPart('Cooled camera', 17.5)
  ]),
  make('41 within tolerance, and a dial that would land exactly', refractor, [
    correctorPart(
      'Flattener',
      { backFocusMm: 55, toleranceMm: 0.3, flattensField: true },
      { adjust: { minMm: 0, maxMm: 5, setMm: 0.2, stepMm: 0.1 } }
    ),
    ring(37.1),
    cameraPart('Cooled camera', 17.5)
  ]),
  make('42 screws that wait for each other', refractor, [
    correctorPart('Flattener', { backFocusMm: 55, toleranceMm: 0.3, flattensField: true }),
    ring(10),
    body('adapter', 'Front plate', 10, {
      sky: female(M48),
      camera: male(M48),
      seat: { fasteners: [{ thread: 'M3', count: 3, hiddenBy: 'rear-plate' }] }
    }),
    body('adapter', 'Rear plate', 17.5, {
      sky: female(M48),
      camera: male(M48),
      seat: { fasteners: [{ thread: 'M3', count: 3, hiddenBy: 'ring-10' }] }
    }),
    cameraPart('Cooled camera', 17.5)
  ])
];
