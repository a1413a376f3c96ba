import { readDrawer, type PartUse } from '@lodestone/core/drawer';
import { Drawer } from '$lib/parts/drawer.svelte.ts';
import { beforeEach, describe, expect, it } from 'vitest';
import demo from '../../../demo/drawer.json';
import { decodeFile } from './decode.ts';
import { Instrument } from '$lib/calipers/instrument.svelte.ts';
import { DrawerView } from './view.svelte.ts';
import { facesInShort, whereabouts } from './words.ts';
import { today } from '../ui/time.ts';

const reading = readDrawer(demo);
if (!reading.ok) throw new Error('the demo must be a drawer');
const parts = reading.document;
const part = (partId: string) => parts.find((each) => each.partId === partId)!;
const use = (more: Partial<PartUse> = {}): PartUse => ({
  partId: 'R-01',
  trainId: 't',
  trainName: 'Heron',
  copy: undefined,
  assembled: false,
  ...more
});

let view: DrawerView;
beforeEach(() => {
  const drawer = new Drawer();
  drawer.parts = parts
    .map((each) => ({ part: each, version: 1, photo: null, changedAt: '' }))
    .sort((a, b) => (a.part.partId < b.part.partId ? -1 : 1));
  view = new DrawerView(drawer);
});
const shown = () => view.shown.map(({ partId }) => partId);

describe('the list of the drawer', () => {
  it('walks, and stays inside its ends', () => {
    view.query = 'shim';
    const ids = shown();
    view.walk(1);
    expect(view.current).toBe(ids[0]);
    view.walk(-1);
    expect(view.current).toBe(ids[0]);
    view.walk(Infinity);
    expect(view.current).toBe(ids.at(-1));
    view.walk(-Infinity);
    expect(view.current).toBe(ids[0]);
  });

  it('chooses one, a stretch, all, and none', () => {
    view.query = 'm63 f';
    const ids = shown();
    view.current = ids[1];
    view.chooseTo(ids[3]!);
    expect([...view.chosen]).toEqual(ids.slice(1, 4));
    view.toggle(ids[2]!);
    expect(view.chosen.has(ids[2]!)).toBe(false);
    view.chooseAll();
    expect(view.chosen.size).toBe(ids.length);
    view.chooseAll();
    expect(view.chosen.size).toBe(0);
  });

  it('actions are for the chosen parts, else for the open one', () => {
    expect(view.subjects).toEqual([]);
    view.current = 'R-01';
    expect(view.subjects.map(({ partId }) => partId)).toEqual(['R-01']);
    view.toggle('R-02');
    view.toggle('R-03');
    expect(view.subjects.map(({ partId }) => partId)).toEqual(['R-02', 'R-03']);
  });

  it('a facet narrows, and the same again widens', () => {
    view.narrow('location', 'Tin 2');
    const inTin = shown().length;
    expect(inTin).toBeGreaterThan(0);
    expect(inTin).toBeLessThan(parts.length);
    view.narrow('location', 'Tin 2');
    expect(shown()).toHaveLength(parts.length);
  });

  it('sorts by a column, and by the same again the other way round', () => {
    view.sortBy('length');
    const up = view.shown.map(({ element }) => element.kind);
    expect(up[0]).toBe('shim');
    view.sortBy('length');
    expect(shown()[0]).toBe('D-01');
    view.sortBy('partId');
    expect(view.descending).toBe(false);
  });
});

describe('words about parts', () => {
  it('faces are short, shims tell their bore', () => {
    expect(facesInShort(part('R-01'))).toEqual(['M63×1 f', 'M63×1 m']);
    expect(facesInShort(part('S-05'))).toEqual(['bore 64']);
    expect(facesInShort(part('CAM-1'))).toEqual(['M54×0.75 m']);
    expect(facesInShort(part('B-02'))).toEqual(['dslr-46.5 m', 'M48×0.75 m']);
  });

  it('where a part is: held, to buy, set aside, planned, else its state', () => {
    expect(whereabouts(part('R-01'), [use({ assembled: true }), use({ trainName: 'Dormouse' })])).toBe('in Heron');
    expect(whereabouts(part('X-01'), [])).toBe('to buy');
    expect(whereabouts(part('R-17'), [])).toBe('set aside');
    expect(whereabouts(part('R-01'), [use(), use()])).toBe('planned: Heron');
    expect(whereabouts(part('R-01'), [])).toBe('spare');
  });

  it('today is the owner’s day', () => {
    expect(today(new Date(2026, 0, 5, 23, 59))).toBe('2026-01-05');
  });
});

describe('files', () => {
  const bytes = (...values: number[]) => new Uint8Array(values);
  it.each([
    ['UTF-8', new TextEncoder().encode('Länge'), undefined],
    ['UTF-16, little end first', bytes(0xff, 0xfe, 0x4c, 0, 0xe4, 0, 0x6e, 0, 0x67, 0, 0x65, 0), undefined],
    ['UTF-16, big end first', bytes(0xfe, 0xff, 0, 0x4c, 0, 0xe4, 0, 0x6e, 0, 0x67, 0, 0x65), undefined],
    ['Windows-1252', bytes(0x4c, 0xe4, 0x6e, 0x67, 0x65), /not UTF-8/]
  ])('in %s are read', (_words, content, doubt) => {
    const decoded = decodeFile(content);
    expect(decoded.text.replace('\uFEFF', '')).toBe('Länge');
    if (doubt) expect(decoded.doubt).toMatch(doubt);
    else expect(decoded.doubt).toBeUndefined();
  });
});

describe('the instrument in hand', () => {
  it('takes its zero off, says so, and never makes a length negative', () => {
    const instrument = new Instrument();
    expect(instrument.measurement(5)).not.toHaveProperty('zeroMm');
    instrument.zeroMm = 0.03;
    expect(instrument.measurement(5.05)).toMatchObject({
      lengthMm: 5.02,
      zeroMm: 0.03,
      instrument: 'Caliper',
      maxErrorMm: 0.03
    });
    expect(instrument.measurement(0.01).lengthMm).toBe(0);
  });
});
