import { apply, readTrain, type Port, type Train } from '@lodestone/core/train';
import { checkTrain } from '@lodestone/core/check';
import { describe, expect, it } from 'vitest';
import heron from '../../../demo/heron.json' with { type: 'json' };
import longTom from '../../../demo/long-tom.json' with { type: 'json' };
import { usualName } from '@lodestone/core/drawer';
import { OPEN_PLACE, elementFrom, facesAt, neighboursAt, startTrain } from './starters.ts';

const host: Train['host'] = {
  name: 'host',
  kind: 'refractor',
  apertureMm: 100,
  focalLengthMm: 700,
  camera: { thread: 'M63x1', gender: 'female', lengthMm: 6 }
};
const male: Port = { thread: 'M48x0.75', gender: 'male', lengthMm: 4 };
const female: Port = { thread: 'M42x0.75', gender: 'female', lengthMm: 5 };

describe('a first train', () => {
  const camera = { id: 'x', kind: 'camera' as const, name: 'camera', lengthMm: 17.5, sky: female };
  const bare = { id: 'x', kind: 'camera' as const, name: 'camera', lengthMm: 17.5 };

  it('is valid, asks for its back focus, and names what is missing between corrector and camera', () => {
    const made = startTrain({
      name: 'First',
      host,
      corrector: {
        id: 'y',
        kind: 'corrector',
        name: 'flattener',
        lengthMm: 30,
        camera: male,
        corrector: { backFocusMm: 55 }
      },
      camera
    });
    expect(readTrain(made)).toMatchObject({ ok: true });
    const { residualMm, problems } = checkTrain(made);
    expect(residualMm).toBe(17.5 - 55);
    expect(problems.map(({ code, at }) => [code, at])).toContainEqual(['open', 'rings']);
    expect(made.elements.map(({ name }) => name)).toEqual(['flattener', OPEN_PLACE, 'camera']);
  });

  it('without a corrector it is valid too, and asks for nothing', () => {
    const made = startTrain({ name: 'Bare', host, corrector: undefined, camera: bare });
    expect(readTrain(made)).toMatchObject({ ok: true });
    expect(checkTrain(made).verdict).toBe('free');
    expect(made.elements.at(-1)).not.toHaveProperty('sky');
  });
});

describe('a part for a place', () => {
  const trains = [heron, longTom] as Train[];
  const places = trains.flatMap((train) => train.elements.map(({ id }) => ({ train, before: id, name: train.name })));

  it.each(places)('$name, before $before: made with the faces it needs, both its joints close', ({ train, before }) => {
    const { sky, camera } = facesAt(train, before);
    const made = elementFrom({ kind: 'spacer', name: 'made', lengthMm: 5, sky, camera }, 'made');
    const after = apply(train, { op: 'insert', element: made, before });
    expect(readTrain(after)).toMatchObject({ ok: true });
    const refused = checkTrain(after).problems.filter(({ severity, at }) => severity === 'error' && at === 'made');
    expect(refused).toEqual([]);
  });

  it('the host is what the first one screws to, and a gap or a shim is not a neighbour', () => {
    const [train] = trains;
    expect(neighboursAt(train!, train!.elements[0]!.id).above).toEqual(train!.host.camera);
    const shim = elementFrom({ kind: 'shim', name: 'shim', lengthMm: 0.5 }, 'shim');
    const gap = train!.elements.find(({ kind }) => kind === 'gap')!;
    const shimmed = apply(train!, { op: 'insert', element: shim, before: gap.id });
    expect(neighboursAt(shimmed, gap.id)).toEqual(neighboursAt(train!, gap.id));
  });

  it.each([
    ['gap', ['id', 'kind', 'name']],
    ['shim', ['id', 'kind', 'name', 'lengthMm']],
    ['camera', ['id', 'kind', 'name', 'lengthMm', 'sky']],
    ['adapter', ['id', 'kind', 'name', 'lengthMm', 'sky', 'camera']]
  ] as const)('a %s has the keys a document allows it', (kind, keys) => {
    const made = elementFrom({ kind, name: 'made', lengthMm: 3, sky: female, camera: male });
    expect(Object.keys(made).sort()).toEqual([...keys].sort());
  });

  it('gets a name from what it is', () => {
    expect(usualName('spacer', '7.5', { thread: 'm48x0.75', gender: 'female' })).toBe('Ring 7.5 M48×0.75');
    expect(usualName('spacer', '', { bayonet: 'dslr-44.0', gender: 'male' })).toBe('Ring');
    expect(usualName('filter-wheel', '20', undefined)).toBe('Filter wheel 20');
  });
});
