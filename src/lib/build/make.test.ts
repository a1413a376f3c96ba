import { readFileSync } from 'node:fs';
import { readDrawer, type Part } from '@lodestone/core/drawer';
import { apply, readTrainText, type CameraElement, type Train } from '@lodestone/core/train';
import { describe, expect, it } from 'vitest';
import { Making, noteOf } from './make.svelte.ts';

const demo = (file: string): string => readFileSync(new URL(`../../../demo/${file}`, import.meta.url), 'utf8');
const reading = readTrainText(demo('avocet.json'));
if (!reading.ok) throw new Error('the demo is no train');
const avocet: Train = reading.document;
const drawn = readDrawer(JSON.parse(demo('drawer.json')));
if (!drawn.ok) throw new Error('the demo’s drawer cannot be read');
const parts: Part[] = drawn.document;

const making = (place = 'flange', draft?: Making['draft']): Making =>
  new Making(
    place,
    () => avocet,
    () => parts,
    draft
  );

describe('a part to have made', () => {
  it('begins as the one of this train, and is put in as one change', () => {
    const [only] = making().made;
    expect(only).toMatchObject({ name: 'Avocet as it is', answer: { ok: true } });
    const operation = making().operationOf(only!)!;
    const [flange] = apply(avocet, operation).elements;
    expect(flange).toMatchObject({
      id: 'flange',
      lengthMm: 11.38,
      note: expect.stringMatching(/^Made to measure: 11.38/)
    });
  });

  it('a variant without the wheel, or with a camera of the drawer, is named after what differs', () => {
    const of = making();
    of.add();
    of.change(1, { without: ['wheel'] });
    of.add();
    const { partId, camera } = of.cameras[0]!;
    of.change(2, { cameraPart: partId });
    expect(of.made.map(({ name }) => name)).toEqual([
      'Avocet as it is',
      'without Marlfield bolted wheel',
      `with ${camera.name}`
    ]);
    const after = apply(avocet, of.operationOf(of.made[1]!)!);
    expect(after.elements.map(({ id }) => id)).toEqual(['flange', 'camera']);
    const other = of.made[2]!;
    if (other.answer.ok) {
      const last = apply(avocet, of.operationOf(other)!).elements.at(-1) as CameraElement;
      expect(last).toMatchObject({ id: 'camera', partId, name: camera.name });
    }
    of.change(2, { name: ' Colour ' });
    expect(of.made[2]!.name).toBe('Colour');
  });

  it('takes no more variants than a sheet has room for, and goes on from a draft', () => {
    const of = making();
    for (let more = 0; more < 9; more++) of.add();
    expect(of.variants).toHaveLength(5);
    expect(of.canAdd).toBe(false);
    of.remove(2);
    of.setFace('sky', 'screws', { thread: 'M2', hole: 'tapped' });
    const again = making('flange', of.draft);
    expect(again.asked).toEqual(of.asked);
    again.add();
    expect(new Set(again.variants.map(({ id }) => id)).size).toBe(5);
    again.setFace('sky', 'screws', undefined);
    expect(again.asked.sky).toEqual({});
  });

  it('has nothing to put in while something is missing', () => {
    const host = making('camera');
    expect(host.made[0]!.answer.ok).toBe(false);
    expect(host.operationOf(host.made[0]!)).toBeUndefined();
  });

  it('its note keeps what a workshop was asked for', () => {
    const of = making();
    of.setFace('sky', 'screws', { thread: 'M2', hole: 'countersunk' });
    const { answer } = of.made[0]!;
    expect(answer.ok && noteOf(answer)).toBe(
      'Made to measure: 11.38 ±0.02 mm turned; sky side 4 × Ø2.4 for M2, countersunk 90°, on Ø60.'
    );
  });
});
