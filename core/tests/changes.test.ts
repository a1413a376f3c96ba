import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { changeInWords, changesBetween, rowsApart, takenFrom } from '../src/compare/index.ts';
import {
  OperationError,
  apply,
  inverse,
  operationToward,
  readTrain,
  sameJson,
  type Train
} from '../src/train/index.ts';
import { anyTrain, camera, corrector, part, train } from './trains.ts';

const said = (from: Train, to: Train): string[] => changesBetween(from, to).map((each) => changeInWords(each, 'mm'));

describe('the way from one state to another', () => {
  it('makes any train of any other, and can be taken back', () => {
    fc.assert(
      fc.property(anyTrain, anyTrain, (from, to) => {
        const operation = operationToward(from, to);
        const made = apply(from, operation);
        expect(made).toEqual(to);
        expect(readTrain(made).ok).toBe(true);
        expect(apply(made, inverse(from, operation))).toEqual(from);
      })
    );
  });

  it('touches nothing where nothing differs, and only what does', () => {
    const base = train([corrector({ backFocusMm: 55 }), part('ring', 10), part('tube', 27.5), camera(17.5)]);
    expect(operationToward(base, base)).toEqual({ op: 'batch', operations: [] });
    const longer = { ...base, elements: base.elements.with(1, part('ring', 10.1)) };
    expect(operationToward(base, longer)).toEqual({
      op: 'batch',
      operations: [{ op: 'replace', id: 'ring', element: part('ring', 10.1) }]
    });
    const swapped = { ...base, elements: [base.elements[0]!, base.elements[2]!, base.elements[1]!, base.elements[3]!] };
    expect((operationToward(base, swapped) as { operations: unknown[] }).operations).toHaveLength(1);
  });
});

describe('what changed, in words', () => {
  const base = train([corrector({ backFocusMm: 55 }), part('ring', 10), part('tube', 27.5), camera(17.5)]);
  const [lens, ring, tube, cam] = base.elements as [never, never, never, never];

  it('nothing, of the same', () => {
    fc.assert(
      fc.property(anyTrain, (of) => {
        expect(changesBetween(of, of)).toEqual([]);
      })
    );
  });

  it('parts that came, went, moved and became longer', () => {
    expect(said(base, { ...base, elements: [lens, part('new', 3), ring, tube, cam] })).toEqual(['new added']);
    expect(said(base, { ...base, elements: [lens, tube, cam] })).toEqual(['ring removed']);
    expect(said(base, { ...base, elements: [lens, tube, ring, cam] })).toHaveLength(1);
    expect(said(base, { ...base, elements: [lens, part('ring', 10.25), tube, cam] })).toEqual([
      'ring 10.00 mm to 10.25 mm'
    ]);
  });

  it('a reading that moved the length is told by the length; one that did not, as a reading', () => {
    const read = (lengthMm: number): Train => ({
      ...base,
      elements: [lens, part('ring', 10, { measured: { lengthMm } }), tube, cam]
    });
    expect(said(base, read(10.03))).toEqual(['ring 10.00 mm to 10.03 mm']);
    expect(said(base, read(10))).toEqual(['ring: reading']);
  });

  it('what is kept with the train, by its own word', () => {
    expect(said(base, { ...base, note: 'new', name: 'other' })).toEqual(['note of the train', 'name of the train']);
    expect(said(base, { ...base, host: { ...base.host, focalLengthMm: 701 } })).toEqual(['telescope or lens']);
    expect(said(base, { ...base, assembly: { order: 'telescope' } })).toEqual(['assembly steps']);
  });

  it('of any two trains is told: something, where they differ', () => {
    fc.assert(
      fc.property(anyTrain, anyTrain, (from, to) => {
        const differs = JSON.stringify(operationToward(from, to)) !== JSON.stringify({ op: 'batch', operations: [] });
        expect(changesBetween(from, to).length > 0).toBe(differs);
      })
    );
  });
});

describe('two versions, row by row', () => {
  const base = train([corrector({ backFocusMm: 55 }), part('ring', 10), part('tube', 27.5), camera(17.5)]);
  const [lens, ring, tube, cam] = base.elements as [never, never, never, never];
  const rows = (second: Train) =>
    rowsApart(base, second, 'mm').map(({ name, field, first, second: other }) => [name, field, first, other]);

  it('is told field by field, with both values', () => {
    expect(rows({ ...base, elements: [lens, part('ring', 10.1, { note: 'turned' }), tube, cam] })).toEqual([
      ['ring', 'length', '10.00 mm', '10.10 mm'],
      ['ring', 'note', 'nothing', '“turned”']
    ]);
    expect(rows({ ...base, elements: [lens, tube, cam] })).toEqual([['ring', undefined, 'in the train', 'removed']]);
    expect(rows({ ...base, elements: [lens, tube, ring, cam] })).toHaveLength(1);
    expect(rows({ ...base, elements: [lens, part('new', 3), ring, tube, cam], name: 'other' })).toEqual([
      ['new', undefined, 'not in the train', 'put in'],
      ['Train', 'name', `“${base.name}”`, '“other”']
    ]);
    expect(rows(base)).toEqual([]);
  });

  it('all rows taken make the second, of any two trains; none leave the first', () => {
    fc.assert(
      fc.property(anyTrain, anyTrain, (first, second) => {
        const all = rowsApart(first, second, 'mm');
        expect(sameJson(takenFrom(first, all), second)).toBe(true);
        expect(takenFrom(first, [])).toBe(first);
        expect(new Set(all.map(({ id }) => id)).size).toBe(all.length);
        for (const { first: a, second: b } of all) expect(a).not.toBe(b);
      })
    );
  });

  it('of some that are taken, just the others are left; or it is said that one rests on another', () => {
    fc.assert(
      fc.property(anyTrain, anyTrain, fc.infiniteStream(fc.boolean()), (first, second, choice) => {
        const all = rowsApart(first, second, 'mm');
        const [taken, left] = [[] as typeof all, [] as typeof all];
        for (const row of all) (choice.next().value ? taken : left).push(row);
        try {
          const made = takenFrom(first, taken);
          const after = rowsApart(made, second, 'mm').map(({ id }) => id);
          // Where parts were moved past each other, which of them is told as moved may change.
          const plain = (ids: readonly string[]) => ids.filter((id) => !id.endsWith('/place'));
          expect(plain(after)).toEqual(plain(left.map(({ id }) => id)));
        } catch (error) {
          expect(error).toBeInstanceOf(OperationError);
        }
      })
    );
  });
});
