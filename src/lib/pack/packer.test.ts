import type { Part } from '@lodestone/core/drawer';
import { readDrawer } from '@lodestone/core/drawer';
import { readTrain } from '@lodestone/core/train';
import { readFileSync } from 'node:fs';
import { beforeEach, describe, expect, it } from 'vitest';
import type { StoredTrain } from '$lib/api/trains.ts';
import type { Drawer } from '$lib/parts/drawer.svelte.ts';
import { FakePage } from '$lib/testing/sync.ts';
import { Packer } from './packer.svelte.ts';
import { byPlace } from './places.ts';

const demo = (name: string): unknown => JSON.parse(readFileSync(`demo/${name}.json`, 'utf8'));
const reading = readDrawer(demo('drawer'));
const plain: readonly Part[] = reading.ok ? reading.document : [];
const drawer = { plain } as unknown as Drawer;

function packer(name: string): Packer {
  const train = readTrain(demo(name));
  if (!train.ok) throw new Error(name);
  const stored = {
    id: name,
    state: 'active',
    document: train.document,
    revision: { number: 1, savedAt: '2026-11-30T00:00:00Z' }
  } as unknown as StoredTrain;
  return new Packer(stored, drawer, () => 'mm', new FakePage());
}

let longTom: Packer;
beforeEach(() => {
  longTom = packer('long-tom');
});

describe('what comes along with a train', () => {
  it('is ticked off in each round by itself', () => {
    const all = longTom.items.length;
    const { key } = longTom.items[0]!;
    expect([longTom.left('packed'), longTom.left('leaving')]).toEqual([all, all]);
    expect(longTom.tick('packed', key, true)).toBeUndefined();
    expect([longTom.left('packed'), longTom.left('leaving')]).toEqual([all - 1, all]);
    longTom.tick('packed', key, false);
    longTom.tick('leaving', key, true);
    expect([longTom.left('packed'), longTom.left('leaving')]).toEqual([all, all - 1]);
    longTom.beginAgain('leaving');
    expect(longTom.left('leaving')).toBe(all);
  });

  it('has what was added by hand, once, and not what is nothing', () => {
    const before = longTom.items.length;
    longTom.add('  Red torch ');
    longTom.add('Red torch');
    longTom.add('   ');
    expect(longTom.items).toHaveLength(before + 1);
    expect(longTom.groups.find(({ group }) => group === 'caps')?.list.map(({ what }) => what)).toContain('Red torch');
    longTom.drop('Red torch');
    expect(longTom.items).toHaveLength(before);
  });

  it('has no group of which there is nothing, and every item in one', () => {
    expect(longTom.groups.every(({ list }) => list.length > 0)).toBe(true);
    expect(longTom.groups.flatMap(({ list }) => list)).toHaveLength(longTom.items.length);
  });
});

describe('place by place', () => {
  it('every tin stands once, with what each train takes from it; what lies nobody knows where stands last', () => {
    const heron = packer('heron');
    const places = byPlace([longTom, heron]);
    const names = places.map(({ location }) => location);
    expect(new Set(names).size).toBe(names.length);
    expect(names.at(-1)).toBeNull();
    const known = names.filter((name) => name !== null);
    expect(known).toEqual(known.toSorted((a, b) => a.localeCompare(b)));
    const things = [longTom, heron].flatMap(({ items }) => items.filter(({ group }) => group !== 'joints'));
    expect(places.flatMap(({ items }) => items)).toHaveLength(things.length);
    expect(places.some(({ items }) => new Set(items.map((each) => each.packer)).size === 2)).toBe(true);
  });

  it('of no train there is none', () => {
    expect(byPlace([])).toEqual([]);
  });
});
