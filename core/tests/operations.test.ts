import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  HOST,
  OperationError,
  TRAIN,
  apply,
  inverse,
  readTrain,
  removalOf,
  shiftOf,
  type Operation,
  type Train
} from '../src/train/index.ts';
import { anyTrain, camera, corrector, part, train } from './trains.ts';

const base = train([corrector({ backFocusMm: 55 }), part('a', 10), part('b', 20), camera(25)]);
const ids = (of: Train) => of.elements.map(({ id }) => id);

describe('several elements', () => {
  const shifted = (of: Train, which: readonly string[], by: -1 | 1): string[] => {
    const operation = shiftOf(of, which, by);
    return operation ? ids(apply(of, operation)) : ids(of);
  };
  const row = train(['a', 'b', 'c', 'd', 'e'].map((id) => part(id, 10)));

  it('are moved by one place each, in their order, and wait at the end for none', () => {
    expect(shifted(row, ['c', 'd'], -1)).toEqual(['a', 'c', 'd', 'b', 'e']);
    expect(shifted(row, ['b', 'c'], 1)).toEqual(['a', 'd', 'b', 'c', 'e']);
    expect(shifted(row, ['b', 'd'], -1)).toEqual(['b', 'a', 'd', 'c', 'e']);
    expect(shifted(row, ['a', 'c'], -1)).toEqual(['a', 'c', 'b', 'd', 'e']);
    expect(shifted(row, ['a', 'b'], -1)).toEqual(ids(row));
    expect(shiftOf(row, ['d', 'e'], 1)).toBeUndefined();
  });

  it('moved there and back, where there is room, stand as they stood; the order of the others never changes', () => {
    fc.assert(
      fc.property(fc.subarray(ids(row)), fc.constantFrom<-1 | 1>(-1, 1), (which, by) => {
        const after = shifted(row, which, by);
        const others = (all: readonly string[]) => all.filter((id) => !which.includes(id));
        expect(others(after)).toEqual(others(ids(row)));
        expect(after.filter((id) => which.includes(id))).toEqual(which);
        const edge = by < 0 ? 'a' : 'e';
        if (which.includes(edge)) return;
        const operation = shiftOf(row, which, by);
        if (operation) expect(shifted(apply(row, operation), which, by < 0 ? 1 : -1)).toEqual(ids(row));
      })
    );
  });

  it('are taken out together', () => {
    expect(ids(apply(row, removalOf(row, ['b', 'd'])!))).toEqual(['a', 'c', 'e']);
    expect(removalOf(row, ['nobody'])).toBeUndefined();
  });
});

describe('operations', () => {
  it('insert, move and remove name ids, not places', () => {
    const inserted = apply(base, { op: 'insert', element: part('c', 5), before: 'b' });
    expect(ids(inserted)).toEqual(['corrector', 'a', 'c', 'b', 'camera']);
    expect(ids(apply(inserted, { op: 'move', id: 'c', before: 'a' }))).toEqual(['corrector', 'c', 'a', 'b', 'camera']);
    expect(ids(apply(inserted, { op: 'remove', id: 'a' }))).toEqual(['corrector', 'c', 'b', 'camera']);
  });

  it('replacing the camera or the corrector is one operation', () => {
    const swapped = apply(base, { op: 'replace', id: 'camera', element: camera(17.5, { id: 'other' }) });
    expect(ids(swapped).at(-1)).toBe('other');
    expect(readTrain(swapped).ok).toBe(true);
    const respaced = apply(base, {
      op: 'replace',
      id: 'corrector',
      element: corrector({ backFocusMm: 60 }, { id: 'new' })
    });
    expect(readTrain(respaced).ok).toBe(true);
  });

  it('sets inside an object that is not there yet, and drops one that became empty', () => {
    const set = apply(base, { op: 'set', at: 'a', path: ['seat', 'recessMm'], to: 2 });
    expect(set.elements[1]).toMatchObject({ seat: { recessMm: 2 } });
    const cleared = apply(set, { op: 'set', at: 'a', path: ['seat', 'recessMm'], to: undefined });
    expect(cleared).toEqual(base);
    expect(apply(base, { op: 'set', at: HOST, path: ['flatField'], to: true }).host.flatField).toBe(true);
    expect(apply(base, { op: 'set', at: TRAIN, path: ['glassRule'], to: 'third' }).glassRule).toBe('third');
  });

  it.each<[string, Operation]>([
    ['remove', { op: 'remove', id: 'gone' }],
    ['move', { op: 'move', id: 'gone', before: null }],
    ['move before', { op: 'move', id: 'a', before: 'gone' }],
    ['insert before', { op: 'insert', element: part('c', 1), before: 'gone' }],
    ['insert twice', { op: 'insert', element: part('a', 1), before: null }],
    ['replace', { op: 'replace', id: 'gone', element: part('c', 1) }],
    ['replace by a namesake', { op: 'replace', id: 'a', element: part('b', 1) }],
    ['set', { op: 'set', at: 'gone', path: ['name'], to: 'x' }],
    ['set below a number', { op: 'set', at: 'a', path: ['lengthMm', 'x'], to: 1 }],
    ['set the prototype', { op: 'set', at: 'a', path: ['__proto__'], to: {} }]
  ])('%s: refuses what it cannot do', (_name, operation) => {
    expect(() => apply(base, operation)).toThrow(OperationError);
  });

  const operationOn = (made: Train): fc.Arbitrary<Operation> => {
    const id = fc.constantFrom(...ids(made));
    const before = fc.constantFrom<string | null>(...ids(made), null);
    const single: fc.Arbitrary<Operation> = fc.oneof(
      fc.record({ op: fc.constant('insert' as const), element: fc.constant(part('new', 7)), before }),
      fc.record({ op: fc.constant('remove' as const), id }),
      fc.record({ op: fc.constant('move' as const), id, before }),
      fc.record({ op: fc.constant('replace' as const), id, element: fc.constant(part('new', 8)) }),
      fc.record({
        op: fc.constant('set' as const),
        at: fc.oneof(id, fc.constantFrom(HOST, TRAIN)),
        path: fc.constantFrom<[string, ...string[]]>(
          ['name'],
          ['lengthMm'],
          ['seat', 'gapMm'],
          ['sky', 'thread'],
          ['measured', 'lengthMm']
        ),
        to: fc.constantFrom<unknown>(1, 'x', undefined)
      })
    );
    return fc.oneof(
      single,
      fc.record({ op: fc.constant('batch' as const), operations: fc.array(single, { maxLength: 4 }) })
    );
  };

  it('invert: undoing any operation gives the document back, key for key', () => {
    fc.assert(
      fc.property(
        anyTrain.chain((made) => fc.tuple(fc.constant(made), operationOn(made))),
        ([made, operation]) => {
          const frozen = structuredClone(made);
          let changed: Train;
          try {
            changed = apply(made, operation);
          } catch (error) {
            expect(error).toBeInstanceOf(OperationError);
            return;
          }
          const undo = inverse(made, operation);
          expect(apply(changed, undo)).toEqual(frozen);
          expect(apply(apply(changed, undo), inverse(changed, undo))).toEqual(changed);
          expect(made).toEqual(frozen);
        }
      )
    );
  });
});
