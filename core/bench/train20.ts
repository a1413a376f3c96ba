import type { Element, Train } from '../src/train/index.ts';

/** A train of twenty elements with everything a check looks at: threads, shims, glass, dials, measurements. */
export function trainOfTwenty(): Train {
  const rings: Element[] = Array.from({ length: 14 }, (_, index) => ({
    id: `ring-${index}`,
    kind: 'spacer',
    name: `Ring ${index}`,
    lengthMm: 3 + index / 10,
    ...(index % 2 === 0 ? { measured: { lengthMm: 3.02 + index / 10, uncertaintyMm: 0.03 } } : { toleranceMm: 0.05 }),
    sky: { thread: 'M54x0.75', gender: 'female', lengthMm: 4 },
    camera: { thread: 'M54x0.75', gender: 'male', lengthMm: index % 5 === 0 ? 4.4 : 3.5 },
    seat: index % 4 === 0 ? { shimsMm: [0.1, 0.2] } : { recessMm: 0.5 }
  }));
  const plates = [1, 2, 3, 4, 5, 6, 7].map((slot) => ({
    name: `Filter ${slot}`,
    slot,
    thicknessMm: slot === 5 ? 3 : 2,
    index: 1.5168
  }));
  return {
    lodestone: 'train/1',
    name: 'Twenty',
    host: {
      name: 'Bench',
      kind: 'refractor',
      apertureMm: 115,
      focalLengthMm: 805,
      camera: { thread: 'M68x1', gender: 'female', lengthMm: 8 }
    },
    elements: [
      {
        id: 'corrector',
        kind: 'corrector',
        name: 'Corrector',
        lengthMm: 40,
        sky: { thread: 'M68x1', gender: 'male', lengthMm: 7 },
        camera: { thread: 'M54x0.75', gender: 'male', lengthMm: 3.5 },
        corrector: { backFocusMm: 87.8, toleranceMm: 0.3, magnification: 0.8 },
        adjust: { minMm: 0, maxMm: 10, setMm: 2, stepMm: 0.1 }
      },
      ...rings.slice(0, 7),
      { id: 'shim-a', kind: 'shim', name: 'Shim', lengthMm: 0.3, toleranceMm: 0.01 },
      ...rings.slice(7),
      { id: 'shim-b', kind: 'shim', name: 'Shim', lengthMm: 0.2, toleranceMm: 0.01 },
      {
        id: 'wheel',
        kind: 'filter-wheel',
        name: 'Wheel',
        lengthMm: 20,
        toleranceMm: 0.1,
        sky: { thread: 'M54x0.75', gender: 'female', lengthMm: 4 },
        camera: { thread: 'M54x0.75', gender: 'female', lengthMm: 4 },
        glass: plates
      },
      { id: 'gap', kind: 'gap', name: 'Open' },
      {
        id: 'camera',
        kind: 'camera',
        name: 'Camera',
        lengthMm: 17.5,
        sky: { thread: 'M54x0.75', gender: 'male', lengthMm: 4 },
        sensor: { widthMm: 23.5, heightMm: 15.7, pixelUm: 3.76 }
      }
    ]
  };
}
