import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { mergedPart, partToDocument, readPart, withReadingIds, type Part } from '../src/drawer/index.ts';
import {
  apply,
  forcedOnto,
  inverse,
  rebaseOnto,
  upgrade,
  type Element,
  type Operation,
  type Train
} from '../src/train/index.ts';
import { anyDrawer } from './anyDrawer.ts';
import { drawer } from './drawer.ts';
import { camera, corrector, part, train } from './trains.ts';

const ring = (more: Record<string, unknown> = {}): Part => drawer({ partId: 'R-1', ...more })[0]!;
const reading = (lengthMm: number, id?: string) => ({
  ...(id === undefined ? {} : { id }),
  lengthMm,
  instrument: 'caliper',
  date: '2026-11-25'
});

describe('a part that two sides have changed', () => {
  it('keeps what each has changed; where both changed the same, theirs stands and the key is named', () => {
    const before = ring({ name: 'ring', location: 'Tin 1', price: 5 });
    const ours = ring({ name: 'ours', location: 'Tin 1' });
    const theirs = ring({ name: 'theirs', location: 'Tin 2', price: 5, quantity: 3 });
    const { part: merged, clashes } = mergedPart(before, ours, theirs);
    expect(merged).toMatchObject({ element: { name: 'theirs' }, location: 'Tin 2', quantity: 3 });
    // Ours took the price out.
    expect(merged!.price).toBeUndefined();
    expect(clashes).toEqual(['name']);
  });

  it('both to the same is no clash', () => {
    const { clashes } = mergedPart(ring({ name: 'a' }), ring({ name: 'b' }), ring({ name: 'b', quantity: 2 }));
    expect(clashes).toEqual([]);
  });

  it('keeps the readings of both, without those that ours struck out', () => {
    const before = ring({ measurements: [reading(10.01, 'a'), reading(10.5, 'b')] });
    const ours = ring({ measurements: [reading(10.01, 'a'), reading(10.02, 'c')] });
    const theirs = ring({ measurements: [reading(10.01, 'a'), reading(10.5, 'b'), reading(10.03, 'd')] });
    const { part: merged, clashes } = mergedPart(before, ours, theirs);
    expect(merged!.measurements.map(({ id }) => id)).toEqual(['a', 'd', 'c']);
    expect(clashes).toEqual([]);
  });

  it('keeps equal readings apart by their ids, and strikes out the one that was meant', () => {
    const before = ring({ measurements: [reading(10.01, 'a')] });
    const both = mergedPart(
      before,
      ring({ measurements: [reading(10.01, 'a'), reading(10.01, 'ours')] }),
      ring({ measurements: [reading(10.01, 'a'), reading(10.01, 'theirs')] })
    );
    expect(both.part!.measurements.map(({ id }) => id)).toEqual(['a', 'theirs', 'ours']);
    const struck = mergedPart(both.part!, ring({ measurements: both.part!.measurements.slice(1) }), both.part!);
    expect(struck.part!.measurements.map(({ id }) => id)).toEqual(['theirs', 'ours']);
  });

  it('says when the two together make no part', () => {
    const shim = { kind: 'shim', lengthMm: 0.2 };
    const wedge = ring({ ...shim, wedgeMm: 0.01 });
    // A wedge belongs to a shim; they made it a ring.
    expect(mergedPart(ring(shim), wedge, ring({ kind: 'spacer' })).part).toBeUndefined();
  });

  it('is theirs where ours changed nothing, and ours where theirs did not', () => {
    fc.assert(
      fc.property(anyDrawer, anyDrawer, (some, others) => {
        const [before] = some;
        const [other] = others;
        if (!before || !other) return;
        const changed = readPart({ ...partToDocument(other), partId: before.partId });
        if (!changed.ok) return;
        let count = 0;
        const named = (each: Part): Part => withReadingIds(each, () => `n${count++}`);
        const [was, is] = [named(before), named(changed.document)];
        expect(mergedPart(was, was, is)).toEqual({ part: is, clashes: [] });
        expect(mergedPart(was, is, was)).toEqual({ part: is, clashes: [] });
      }),
      { numRuns: 200 }
    );
  });
});

const base = train([
  corrector({ backFocusMm: 55, toleranceMm: 0.3 }),
  part('a', 10),
  part('b', 20),
  part('c', 5),
  camera(25)
]);
const ids = (of: Train) => of.elements.map(({ id }) => id);
const set = (at: string, path: [string, ...string[]], to: unknown): Operation => ({ op: 'set', at, path, to });
const insert = (element: Element, before: string | null): Operation => ({ op: 'insert', element, before });

/** Ours carried over to what theirs have made of the base. */
function together(ours: Operation[], theirs: Operation[]) {
  const there = theirs.reduce(apply, base);
  const rebase = rebaseOnto(base, there);
  const rebased = ours.map(rebase);
  const clashes = rebased.flatMap((each) => (each.kind === 'clash' ? [each.clash] : []));
  const made = rebased.flatMap((each) => (each.kind === 'goes' ? [each.operation] : [])).reduce(apply, there);
  return { clashes, made };
}

describe('operations carried over to another side’s document', () => {
  it('on different elements, or different keys of one, go together', () => {
    const { clashes, made } = together(
      [set('a', ['lengthMm'], 11), set('b', ['measured'], { lengthMm: 19.9 }), insert(part('new', 2), 'c')],
      [set('a', ['name'], 'theirs'), set('b', ['seat', 'gapMm'], 0.1), { op: 'remove', id: 'c' }]
    );
    expect(clashes).toEqual([]);
    // What the new part was put before is gone: it stands before what came after that.
    expect(ids(made)).toEqual(['corrector', 'a', 'b', 'new', 'camera']);
    expect(made.elements[1]).toMatchObject({ name: 'theirs', lengthMm: 11 });
    expect(made.elements[2]).toMatchObject({ measured: { lengthMm: 19.9 }, seat: { gapMm: 0.1 } });
  });

  it.each<[string, Operation, Operation, object]>([
    [
      'one key set to two values',
      set('a', ['lengthMm'], 11),
      set('a', ['lengthMm'], 12),
      { at: 'a', key: 'lengthMm', theirs: 12, ours: 11 }
    ],
    [
      'a key inside what was replaced as a whole',
      set('corrector', ['corrector', 'tunedMm'], 55.2),
      { op: 'replace', id: 'corrector', element: part('other', 30) },
      { at: 'corrector' }
    ],
    ['changed and removed', set('a', ['lengthMm'], 11), { op: 'remove', id: 'a' }, { at: 'a' }],
    ['removed and changed', { op: 'remove', id: 'a' }, set('a', ['lengthMm'], 11), { at: 'a' }],
    [
      'moved to two places',
      { op: 'move', id: 'a', before: 'c' },
      { op: 'move', id: 'a', before: 'camera' },
      { at: 'a' }
    ],
    [
      'filled by two stacks',
      { op: 'batch', operations: [insert(part('mine', 3), 'b'), { op: 'remove', id: 'b' }] },
      { op: 'replace', id: 'b', element: part('theirs', 4) },
      { at: 'b' }
    ]
  ])('%s is a clash that is named', (_name, ours, theirs, clash) => {
    expect(together([ours], [theirs]).clashes).toEqual([clash]);
  });

  it('what both have done alike is done', () => {
    const { clashes, made } = together(
      [set('a', ['lengthMm'], 12), { op: 'remove', id: 'c' }],
      [set('a', ['lengthMm'], 12), { op: 'remove', id: 'c' }]
    );
    expect(clashes).toEqual([]);
    expect(ids(made)).not.toContain('c');
  });

  it('what we put in ourselves is ours to change, whatever they did', () => {
    const { clashes, made } = together(
      [insert(part('new', 2), 'b'), set('new', ['lengthMm'], 3), { op: 'move', id: 'new', before: 'camera' }],
      [set('a', ['name'], 'theirs')]
    );
    expect(clashes).toEqual([]);
    expect(made.elements.at(-2)).toMatchObject({ id: 'new', lengthMm: 3 });
  });

  it('made on any two disjoint sets of elements, give the same in either order', () => {
    const on = (some: string[]): fc.Arbitrary<Operation> =>
      fc.oneof(
        fc
          .tuple(fc.constantFrom(...some), fc.integer({ min: 1, max: 40 }))
          .map(([id, mm]) => set(id, ['lengthMm'], mm)),
        fc.tuple(fc.constantFrom(...some), fc.string()).map(([id, note]) => set(id, ['note'], note))
      );
    fc.assert(
      fc.property(
        fc.array(on(['a', 'c']), { maxLength: 6 }),
        fc.array(on(['b', 'camera']), { maxLength: 6 }),
        (ours, theirs) => {
          const { clashes, made } = together(ours, theirs);
          expect(clashes).toEqual([]);
          expect(made).toEqual([...ours, ...theirs].reduce(apply, base));
        }
      )
    );
  });

  it('forced: ours holds wherever it still makes sense', () => {
    const theirs = apply(base, set('a', ['lengthMm'], 12));
    expect(forcedOnto(theirs, [set('a', ['lengthMm'], 11)])!.elements[1]).toMatchObject({ lengthMm: 11 });
    expect(forcedOnto(apply(base, { op: 'remove', id: 'a' }), [set('a', ['lengthMm'], 11)])).toBeUndefined();
  });
});

describe('the inverse of a setting', () => {
  it('is of that key alone: what others have set beside it stays', () => {
    const tuned = set('corrector', ['corrector', 'tunedMm'], 55.2);
    const undo = inverse(base, tuned);
    const theirs = apply(apply(base, tuned), set('corrector', ['corrector', 'toleranceMm'], 0.5));
    expect(apply(theirs, undo).elements[0]).toMatchObject({ corrector: { backFocusMm: 55, toleranceMm: 0.5 } });
  });

  it('takes away again what setting inside it made', () => {
    const gap = set('a', ['seat', 'gapMm'], 0.1);
    expect(apply(apply(base, gap), inverse(base, gap))).toEqual(base);
    const empty = apply(base, set('a', ['seat'], {}));
    expect(apply(apply(empty, gap), inverse(empty, gap))).toEqual(empty);
  });
});

describe('a stored document of an older tag', () => {
  it('is brought up step by step; one of no known tag is left alone', () => {
    const steps = {
      'train/-1': (older: Record<string, unknown>) => ({ ...older, lodestone: 'train/0', first: true }),
      'train/0': (older: Record<string, unknown>) => ({ ...older, lodestone: 'train/1', second: true })
    };
    expect(upgrade({ lodestone: 'train/-1' }, steps)).toEqual({ lodestone: 'train/1', first: true, second: true });
    expect(upgrade(base)).toBe(base);
    expect(upgrade({ lodestone: 'toString' })).toEqual({ lodestone: 'toString' });
    expect(upgrade([1])).toEqual([1]);
  });
});
