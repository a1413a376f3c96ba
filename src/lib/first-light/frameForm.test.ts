import type { FocusPoint } from '@lodestone/core/focus';
import { beforeEach, describe, expect, it } from 'vitest';
import { FrameForm } from './frameForm.svelte.ts';
import type { Instruction } from './guide.ts';
import type { FocusSession } from './run.svelte.ts';

let points: FocusPoint[];
let instruction: Instruction | undefined;
let refusal: string | undefined;
let form: FrameForm;

beforeEach(() => {
  points = [];
  instruction = { key: undefined, title: '', look: '', position: 400, way: 'out' };
  refusal = undefined;
  const session = {
    get points() {
      return points;
    },
    add: (point: FocusPoint) => {
      if (refusal === undefined) points = [...points, point];
      return refusal;
    }
  };
  form = new FrameForm(session as unknown as FocusSession, () => instruction);
});

describe('the next frame', () => {
  it('stands where the instruction wants it, and came the way it says', () => {
    expect(form.position).toBe('400');
    form.hfr = '4,25';
    expect(form.add(undefined)).toBe(true);
    expect(points).toEqual([{ position: 400, hfrPx: 4.25, direction: 'out' }]);
    expect(form.hfr).toBe('');
  });

  it('elsewhere it came the way it moved, and where it stayed, none', () => {
    points = [{ position: 500, hfrPx: 3 }];
    for (const [position, way] of [
      ['450', 'in'],
      ['600', 'out'],
      ['600', undefined]
    ] as const) {
      form.position = position;
      form.hfr = '3';
      form.add(undefined);
      expect(points.at(-1)?.direction).toBe(way);
    }
  });

  it('may only be seen, or be larger than can be measured, and knows its star', () => {
    form.star = ' second ';
    form.add('nothing');
    form.hfr = '30';
    form.isCeiling = true;
    form.add(undefined);
    expect(points).toMatchObject([
      { seen: 'nothing', star: 'second' },
      { hfrPx: 30, ceiling: true }
    ]);
    expect(points[0]).not.toHaveProperty('hfrPx');
    expect(form.isCeiling).toBe(false);
  });

  it.each([
    ['', '3', undefined, /Type the position of the focuser/],
    ['400', '', undefined, /How large is the star/],
    ['400', 'large', undefined, /How large is the star/],
    ['400', '0', undefined, /more than 0/]
  ] as const)('at “%s” with “%s” is refused, and nothing typed is lost', (position, hfr, seen, message) => {
    form.position = position;
    form.hfr = hfr;
    expect(form.add(seen)).toBe(false);
    expect(form.message).toMatch(message);
    expect([form.position, form.hfr, points.length]).toEqual([position, hfr, 0]);
  });

  it('on the other side of zero is asked about', () => {
    points = [{ position: 300, hfrPx: 3 }];
    form.position = '-300';
    form.hfr = '3';
    expect(form.add(undefined)).toBe(false);
    expect(form.message).toMatch(/Check the sign/);
  });

  it('that the train refuses says why, and stays in the form', () => {
    refusal = 'There are too many frames.';
    form.hfr = '3';
    expect(form.add(undefined)).toBe(false);
    expect([form.message, form.hfr]).toEqual(['There are too many frames.', '3']);
  });
});

describe('a frame that was read', () => {
  it('fills the form, its position where it knows it', () => {
    form.fill('focus 4100.fits', 2.345, 4100, undefined);
    expect([form.position, form.hfr, form.fromFrame]).toEqual(['4100', '2.35', 'focus 4100.fits']);
    form.add(undefined);
    expect(form.fromFrame).toBeUndefined();
  });

  it('without a star says so, and leaves what is typed', () => {
    form.hfr = '3';
    form.fill('dark.fits', undefined, undefined, undefined);
    expect(form.message).toMatch(/^dark.fits: no star was found/);
    form.fill('broken.fits', undefined, undefined, 'It ends in the middle.');
    expect(form.message).toBe('broken.fits: It ends in the middle.');
    expect([form.hfr, form.position]).toEqual(['3', '400']);
  });
});
