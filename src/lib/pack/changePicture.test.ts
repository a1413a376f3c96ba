import { changeOver } from '@lodestone/core/assembly';
import { layoutOf } from '@lodestone/core/shape';
import { assess } from '@lodestone/core/check';
import { readTrain, type Train } from '@lodestone/core/train';
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { bandsOf, jointsAt } from './changePicture.ts';

const demo = (name: string): Train => {
  const reading = readTrain(JSON.parse(readFileSync(`demo/${name}.json`, 'utf8')));
  if (!reading.ok) throw new Error(name);
  return reading.document;
};
const layout = (train: Train) => layoutOf(train, assess(train).ledger);
const without = (train: Train, id: string): Train =>
  ({ ...train, elements: train.elements.filter((element) => element.id !== id) }) as Train;

describe('the picture of a change-over', () => {
  const from = demo('long-tom');
  const to = without(from, 'ao');
  const change = changeOver(from, to);
  const [a, b] = [layout(from), layout(to)];

  it('joins what stays assembled by one band each, as long in one train as in the other', () => {
    const bands = bandsOf(change, a, b);
    expect(bands.filter(({ isTogether }) => isTogether).length).toBeGreaterThan(0);
    for (const { from: above, to: below } of bands) {
      expect(above.toMm - above.fromMm).toBeCloseTo(below.toMm - below.fromMm, 6);
    }
    // Every part that both have lies in exactly one.
    const within = (id: string) => {
      const item = a.items.find((each) => each.id === id)!;
      return bands.filter(({ from: { fromMm, toMm } }) => item.fromMm >= fromMm && item.toMm <= toMm).length;
    };
    for (const part of change.taken) {
      if (a.items.find(({ id }) => id === part.from)!.toMm > 0) expect(within(part.from)).toBeGreaterThan(0);
    }
  });

  it('numbers the joints in the order they are opened, the last one of the train first', () => {
    const places = jointsAt(a, change.open);
    expect(places).toHaveLength(change.joints);
    expect(places).toEqual(places.toSorted((x, y) => y - x));
  });

  it('has no bands between trains that share nothing', () => {
    const other = demo('dormouse');
    const none = changeOver(from, other);
    expect(bandsOf(none, a, layout(other))).toHaveLength(none.shared);
  });
});
