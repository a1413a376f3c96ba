import { describe, expect, it } from 'vitest';
import { CATALOGUE, LENS_MOUNTS } from '../src/catalogue/index.ts';
import { assess } from '../src/check/index.ts';
import { cameraPort, skyPort, type Port, type Train } from '../src/train/index.ts';
import { mate } from '../src/joint/index.ts';
import { camera, corrector, part, train } from './trains.ts';

const bayonet = (name: string, gender: 'male' | 'female'): Port => ({ bayonet: name, gender });
const T: Port = { thread: 'M42x0.75', gender: 'female' };
const told = (of: Train): string[] =>
  assess(of)
    .findings.filter(({ code }) => code === 'bayonet-flange')
    .map(({ say }) => say('mm'));

const dslr = (lengthMm: number, ringMm: number): Train =>
  train([
    corrector({ backFocusMm: 55 }),
    part('ring', ringMm, { kind: 'bayonet-adapter', sky: T, camera: bayonet('dslr-44.0', 'male') }),
    camera(lengthMm, { sky: bayonet('dslr-44.0', 'female') })
  ]);

describe('bayonet, flange and adapter agree (handbook §3, common practice)', () => {
  it('44 + 11 is fine; a little shorter on purpose too', () => {
    expect(told(dslr(44, 11))).toEqual([]);
    expect(told(dslr(44, 10.8))).toEqual([]);
  });

  it('errors that cancel are told both: 45 + 10 for 44 + 11', () => {
    expect(assess(dslr(45, 10)).report.residualMm).toBeCloseTo(0, 9);
    expect(told(dslr(45, 10))).toEqual([
      'ring has a length of 10.00 mm, but a T-ring and the 44.00 mm of its bayonet come to 55.00 mm: 11.00 mm is expected. Check the bayonet or measure the part.',
      'camera has a length of 45.00 mm, but its bayonet is 44.00 mm from the sensor: 44.00 mm is expected. Check the bayonet or measure the part.'
    ]);
  });

  it('46.5 to 20 is 26.5', () => {
    const adapted = (lengthMm: number): Train =>
      train(
        [
          part('adapter', lengthMm, {
            kind: 'bayonet-adapter',
            sky: bayonet('dslr-46.5', 'male'),
            camera: bayonet('mirrorless-20.0', 'male')
          }),
          camera(20, { sky: bayonet('mirrorless-20.0', 'female') })
        ],
        {
          host: {
            name: 'lens',
            kind: 'camera-lens',
            apertureMm: 50,
            focalLengthMm: 100,
            camera: bayonet('dslr-46.5', 'female'),
            corrector: { backFocusMm: 46.5 }
          }
        }
      );
    expect(told(adapted(26.5))).toEqual([]);
    expect(told(adapted(27))).toHaveLength(1);
    const wrongLens = adapted(26.5);
    expect(told({ ...wrongLens, host: { ...wrongLens.host, corrector: { backFocusMm: 44 } } })).toEqual([
      expect.stringContaining('lens has a back focus of 44.00 mm') as string
    ]);
  });

  it('a ring to M48, and a bayonet whose name has no distance, are as long as they are', () => {
    const m48: Port = { thread: 'M48x0.75', gender: 'female' };
    const of = (sky: Port, name: string): Train =>
      train([part('ring', 10, { sky, camera: bayonet(name, 'male') }), camera(31, { sky: bayonet('own', 'female') })]);
    expect(told(of(m48, 'dslr-44.0'))).toEqual([]);
    expect(told(of(T, 'own'))).toEqual([]);
  });

  it('whatever the catalogue puts together agrees', () => {
    const cameras = CATALOGUE.filter(({ element }) => element.kind === 'camera');
    for (const { element: adapter } of CATALOGUE.filter(({ element }) => element.kind === 'bayonet-adapter')) {
      const body = cameras.find(({ element }) => {
        const sky = skyPort(element);
        return sky && mate(cameraPort(adapter)!, sky).joins === true;
      });
      expect(told(train([adapter, body!.element])), adapter.name).toEqual([]);
    }
    for (const { camera: face, corrector: asks, words } of LENS_MOUNTS) {
      const host = {
        name: 'lens',
        kind: 'camera-lens',
        apertureMm: 50,
        focalLengthMm: 100,
        camera: face,
        corrector: asks
      };
      expect(told(train([camera(20)], { host: host as Train['host'] })), words).toEqual([]);
    }
  });
});
