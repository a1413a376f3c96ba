import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { partsAsText, readPartsText } from '../src/train/index.ts';
import { readDemo } from './demo.ts';
import { part } from './trains.ts';

describe('parts on the clipboard', () => {
  it('come out as they went in, of every demo train', () => {
    for (const file of ['heron.json', 'long-tom.json', 'dormouse.json', 'avocet.json']) {
      const { elements } = readDemo(file);
      expect(readPartsText(partsAsText(elements))).toEqual({ ok: true, document: elements });
    }
  });

  it('are nothing of ours where the text is something else', () => {
    for (const text of ['', 'M48 ring 10', '{"a": 1}', '[1]', '{ "lodestone": "train/1" }', '{ broken']) {
      expect(readPartsText(text)).toBeUndefined();
    }
    fc.assert(fc.property(fc.string(), (text) => readPartsText(text) === undefined));
  });

  it('of which one is no part are refused by its place', () => {
    const wrong = partsAsText([part('a', 5), { ...part('b', 5), lengthMm: -1 }]);
    expect(readPartsText(wrong)).toMatchObject({
      ok: false,
      complaints: [{ message: expect.stringMatching(/^part 2: /) }]
    });
    const none = JSON.stringify({ lodestone: 'parts/1', elements: [] });
    expect(readPartsText(none)).toMatchObject({ ok: false });
    const many = partsAsText(Array.from({ length: 101 }, (_, at) => part(`p${at}`, 1)));
    expect(readPartsText(many)).toMatchObject({ ok: false, complaints: [{ message: 'has 101 parts, more than 100' }] });
  });
});
