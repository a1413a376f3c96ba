import { describe, expect, it } from 'vitest';
import {
  CATALOGUE,
  CATALOGUE_NOTE,
  LENS_MOUNTS,
  readHostLine,
  usualHostFace,
  usualParts,
  type HostReading
} from '../src/catalogue/index.ts';
import { assess } from '../src/check/index.ts';
import { cameraPort, readElement, skyPort } from '../src/train/index.ts';
import { mate } from '../src/joint/index.ts';
import { camera, corrector, train } from './trains.ts';

describe('the catalogue of usual things', () => {
  it('holds valid elements, each with an id of its own, its note, and faces that are assumed', () => {
    expect(new Set(CATALOGUE.map(({ id }) => id)).size).toBe(CATALOGUE.length);
    for (const { element, words } of CATALOGUE) {
      expect(readElement(element), words).toMatchObject({ ok: true });
      expect(element.note).toBe(CATALOGUE_NOTE);
      for (const port of [skyPort(element), cameraPort(element)]) if (port) expect(port.assumed, words).toBe(true);
    }
  });

  it('T-ring and body come to the T-mount’s 55 (handbook §2, 55 − flange)', () => {
    const rings = CATALOGUE.filter(({ words }) => words.startsWith('T-ring'));
    expect(rings).toHaveLength(LENS_MOUNTS.length);
    for (const { element: ring } of rings) {
      const body = CATALOGUE.find(
        ({ element }) =>
          element.kind === 'camera' && skyPort(element) && mate(cameraPort(ring)!, skyPort(element)!).joins === true
      );
      expect(ring.lengthMm + (body?.element.lengthMm ?? NaN)).toBeCloseTo(55, 9);
    }
  });

  it('a lens adapter and a body come to the flange distance of the lens (handbook §3, 46.5 to 20 is 26.5)', () => {
    const adapters = CATALOGUE.filter(({ words }) => words.startsWith('Lens adapter'));
    expect(adapters).toHaveLength(16);
    for (const { element: adapter } of adapters) {
      const body = CATALOGUE.find(
        ({ element }) =>
          element.kind === 'camera' && skyPort(element) && mate(cameraPort(adapter)!, skyPort(element)!).joins === true
      );
      const lens = LENS_MOUNTS.find(({ camera: face }) => mate(face, skyPort(adapter)!).joins === true);
      expect(adapter.lengthMm + (body?.element.lengthMm ?? NaN)).toBeCloseTo(lens?.corrector.backFocusMm ?? NaN, 9);
    }
    expect(usualParts('lens adapter 46.5 20.0').map(({ thing }) => thing.element.lengthMm)).toEqual([26.5]);
  });

  it('what fits a place comes first, whatever it is called', () => {
    const body = { bayonet: 'dslr-44.0', gender: 'female' } as const;
    const tThread = { thread: 'M42×0.75', gender: 'male' } as const;
    for (const query of ['t-ring', 'T ring 44', 'tring']) {
      const [first] = usualParts(query, tThread, body);
      expect(first, query).toMatchObject({ thing: { element: { lengthMm: 11 } }, fit: { closes: 'both' } });
    }
    const m42 = { thread: 'M42×0.75', gender: 'female' } as const;
    expect(usualParts('', { thread: 'M48×0.75', gender: 'male' }, m42).map(({ thing }) => thing.words)).toContain(
      'Step ring M48×0.75 f – M42×0.75 m'
    );
    expect(usualParts('anchor')).toEqual([]);
  });

  it('a C-mount camera has the flange distance of ISO 10935 (from memory)', () => {
    expect(CATALOGUE.find(({ words }) => words === 'C-mount camera')?.element.lengthMm).toBe(17.526);
  });

  it('what is assumed of faces is one line of the findings, and goes when it is confirmed', () => {
    const of = (assumed: boolean) => {
      const face = { thread: 'M48×0.75', gender: 'male' as const, ...(assumed ? { assumed } : {}) };
      return assess(train([corrector({ backFocusMm: 55 }, { camera: face }), camera(55)]))
        .findings.filter(({ code }) => code === 'face-assumed')
        .map(({ level, say }) => `${level}: ${say('mm')}`);
    };
    expect(of(true)).toEqual(['assumed: Assumed until somebody looks: the camera face of corrector (M48×0.75 male).']);
    expect(of(false)).toEqual([]);
    expect(usualHostFace('schmidt-cassegrain')).toMatchObject({ thread: '2″-24 UN', gender: 'male', assumed: true });
  });
});

describe('a line about a telescope', () => {
  const host = (line: string): HostReading => {
    const reading = readHostLine(line);
    if (!reading.ok) throw new Error(`${line}: ${reading.message}`);
    return reading.host;
  };

  it.each([
    ['100 f/6', undefined, 100, 600, ''],
    ['100f6', undefined, 100, 600, ''],
    ['100/600', undefined, 100, 600, ''],
    ['600 / 100', undefined, 100, 600, ''],
    ['100 × 6', undefined, 100, 600, ''],
    ['100*6', undefined, 100, 600, ''],
    ['refractor 115 f/7', 'refractor', 115, 805, ''],
    ['Heron 115 805 triplet', 'refractor', 115, 805, 'Heron'],
    ['8in f/10 SCT', 'schmidt-cassegrain', 203.2, 2032, ''],
    ['8" f10', undefined, 203.2, 2032, ''],
    ['newton 150 f/5', 'newtonian', 150, 750, ''],
    ['lens 85 f/2', 'camera-lens', 42.5, 85, ''],
    ['85mm 1:2 lens', 'camera-lens', 42.5, 85, ''],
    ['Long Tom, RC 203 mm f/8', 'two-mirror', 203, 1624, 'Long Tom'],
    ['20,3 cm f/4', undefined, 203, 812, '']
  ] as const)('%s', (line, kind, apertureMm, focalLengthMm, name) => {
    expect(host(line)).toEqual({ kind, apertureMm, focalLengthMm, name });
  });

  it.each(['', 'refractor', '100', 'f/6', '100 f/0', '0 f/6', '100 f/9999', '99999999/100'])(
    '%s is asked about',
    (line) => {
      expect(readHostLine(line)).toMatchObject({ ok: false, message: expect.stringMatching(/\.$/) as string });
    }
  );
});
