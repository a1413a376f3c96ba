import { LENS_MOUNTS } from '@lodestone/core/catalogue';
import type { CameraElement } from '@lodestone/core/train';
import { beforeEach, describe, expect, it } from 'vitest';
import { Start } from './start.svelte.ts';

let start: Start;
let unit: 'mm' | 'in';

beforeEach(() => {
  unit = 'mm';
  start = new Start(() => unit);
});

const type = (draft: Partial<Start['draft']>): void => void Object.assign(start.draft, draft);
const verdict = (): string | undefined => start.preview?.assessment.verdictInWords('mm');

describe('a train begins', () => {
  it('with three lines, each asked for in its turn', () => {
    expect([start.next, start.missing]).toEqual(['host', 'the telescope']);
    type({ hostText: '100 f/6' });
    expect([start.next, start.missing]).toEqual(['corrector', 'what sets the back focus']);
    type({ correctorText: '55' });
    expect([start.next, start.missing]).toEqual(['camera', 'the camera']);
    type({ cameraText: '17,5' });
    expect([start.next, start.missing]).toEqual([undefined, undefined]);
    expect(verdict()).toBe('37.50 mm short');
    expect(start.train).toMatchObject({ name: 'New train', host: { apertureMm: 100, focalLengthMm: 600 } });
  });

  it('with a reducer by magnification and back focus, and a line that may be a lens as one', () => {
    type({ hostText: '8in f/10 SCT', correctorText: '0.7x 105', cameraText: '17.5' });
    expect(start.corrector?.corrector).toEqual({ backFocusMm: 105, magnification: 0.7 });
    expect(start.asLens).toBeUndefined();
    type({ hostText: '135mm f/2' });
    expect(start.host).toMatchObject({ kind: 'refractor', focalLengthMm: 270 });
    expect(start.asLens).toMatchObject({ focalLengthMm: 135 });
    start.takeAsLens();
    expect(start.host).toMatchObject({ kind: 'camera-lens', focalLengthMm: 135, apertureMm: 67.5 });
    expect(start.asLens).toBeUndefined();
  });

  it('in the unit that is shown', () => {
    unit = 'in';
    type({ hostText: '100 f/6', correctorText: '2.165', cameraText: '0.7 in' });
    expect(start.backFocusMm).toBeCloseTo(54.991, 3);
    expect(start.camera?.lengthMm).toBeCloseTo(17.78, 6);
  });

  it('under the name of its telescope, or the one that is given', () => {
    type({ hostText: 'Heron 100 f/6', correctorText: '55', cameraText: '17.5' });
    expect(start.train?.name).toBe('Heron');
    type({ name: '  Wide field ' });
    expect(start.train?.name).toBe('Wide field');
  });

  it('with a lens whose flange sets the distance, or a number that is that distance', () => {
    const [mount] = LENS_MOUNTS;
    type({ hostText: 'lens 85 f/2', corrector: { kind: 'lens', mount: mount! }, cameraText: '17.5' });
    expect(start.train?.host.corrector).toEqual(mount!.corrector);
    expect(start.hostFace).toEqual(mount!.camera);
    type({ corrector: undefined, correctorText: '44' });
    expect(start.train?.host.corrector).toEqual({ backFocusMm: 44 });
    expect(start.corrector).toBeUndefined();
  });

  it('with nothing that asks for a distance', () => {
    type({ hostText: '100 f/6', corrector: { kind: 'none' }, cameraText: '17.5' });
    expect(verdict()).toBe('No back focus required');
  });
});

describe('the back focus', () => {
  it('is no magnification', () => {
    type({ correctorText: '0.8' });
    expect(start.backFocusMm).toBeUndefined();
  });

  it('may be counted from the last surface, whose depth is then needed', () => {
    type({ hostText: '100 f/6', correctorText: '55', cameraText: '17.5', datum: 'last-surface' });
    expect(start.missing).toBe('the depth of the last surface');
    type({ datumOffset: 'x' });
    expect([start.offset.ok, start.train]).toEqual([false, undefined]);
    type({ datumOffset: '2', magnification: '0,8x', flattens: true });
    expect(start.corrector?.corrector).toEqual({
      backFocusMm: 55,
      datum: 'last-surface',
      datumOffsetMm: 2,
      magnification: 0.8,
      flattensField: true
    });
  });
});

describe('what is wrong', () => {
  it('is said once the field was left, and no sooner', () => {
    type({ hostText: 'the big one', correctorText: 'a reducer', cameraText: 'mine' });
    expect(start.wrong('host')).toBeUndefined();
    start.leave('host', 'corrector', 'camera');
    expect(start.wrong('host')).toBeTruthy();
    expect(start.wrong('corrector')).toContain('“a reducer” is none of these');
    expect(start.wrong('camera')).toContain('its flange distance');
    type({ hostText: '100 f/6', correctorText: '55', cameraText: '17.5' });
    expect((['host', 'corrector', 'camera'] as const).map((step) => start.wrong(step))).toEqual([
      undefined,
      undefined,
      undefined
    ]);
  });

  it('about the parts together is said in words, and there is no train', () => {
    type({ hostText: '100 f/6', correctorText: '55' });
    start.pickCamera({
      id: 'own',
      label: 'Odd camera',
      group: '',
      of: { id: '', kind: 'camera' } as unknown as CameraElement
    });
    expect(start.train).toBeUndefined();
    expect(start.complaint).toBeTruthy();
  });
});

it('is there again after a reload, and gone once the train is made', () => {
  start.restore({ hostText: '100 f/6', correctorText: '55' });
  expect([start.next, start.draft.datum]).toEqual(['camera', 'shoulder']);
  start.restore('nonsense');
  start.restore(null);
  expect(start.next).toBe('camera');
  start.clear();
  expect(start.next).toBe('host');
});

it('what is picked says itself', () => {
  start.pickCorrector({ id: 'none', label: 'Nothing', hint: 'no reducer', group: '', of: { kind: 'none' } });
  expect(start.draft.correctorText).toBe('Nothing, no reducer');
  expect(start.isCorrectorSaid).toBe(true);
});
