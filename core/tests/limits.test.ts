import { describe, expect, it } from 'vitest';
import { fieldOf, readTrain } from '../src/train/index.ts';
import { camera, corrector, part, train } from './trains.ts';

/** A train that says one number, by where a form asks for it. */
const saying: readonly [definition: string, key: string, (at: number) => unknown][] = [
  ['BodyElement', 'lengthMm', (lengthMm) => train([part('ring', lengthMm), camera(17.5)])],
  ['BodyElement', 'clearMm', (clearMm) => train([part('ring', 5, { clearMm }), camera(17.5)])],
  ['BodyElement', 'massG', (massG) => train([part('ring', 5, { massG }), camera(17.5)])],
  [
    'Measured',
    'uncertaintyMm',
    (uncertaintyMm) => train([part('ring', 5, { measured: { lengthMm: 5, uncertaintyMm } }), camera(17.5)])
  ],
  ['Corrector', 'backFocusMm', (backFocusMm) => train([corrector({ backFocusMm }), camera(17.5)])],
  [
    'Corrector',
    'datumOffsetMm',
    (datumOffsetMm) => train([corrector({ backFocusMm: 55, datumOffsetMm }), camera(17.5)])
  ],
  [
    'Corrector',
    'magnification',
    (magnification) => train([corrector({ backFocusMm: 55, magnification }), camera(17.5)])
  ],
  ['Glass', 'index', (index) => train([part('drawer', 20, { glass: [{ thicknessMm: 2, index }] }), camera(17.5)])],
  ['Glass', 'slot', (slot) => train([part('wheel', 20, { glass: [{ thicknessMm: 2, slot }] }), camera(17.5)])],
  ['Seat', 'rotationDeg', (rotationDeg) => train([part('ring', 5, { seat: { rotationDeg } }), camera(17.5)])],
  ['Sensor', 'pixelUm', (pixelUm) => train([camera(17.5, { sensor: { widthMm: 23.4, heightMm: 15.6, pixelUm } })])]
];

describe('the limits a form states', () => {
  it.each(saying)('of %s.%s are those the document keeps', (definition, key, made) => {
    const { least, most, above } = fieldOf(definition, key).limits;
    const accepts = (at: number): boolean => readTrain(made(at)).ok;
    expect([least, most].every((bound) => bound !== undefined)).toBe(true);
    expect(accepts(least!)).toBe(!above);
    expect(accepts(most!)).toBe(true);
    const beyond = key === 'slot' ? 1 : 1e-6;
    expect(accepts(least! - beyond)).toBe(false);
    expect(accepts(most! + beyond)).toBe(false);
    if (above) expect(accepts(least! + beyond)).toBe(true);
  });

  it('are none where the document knows none', () => {
    expect(fieldOf('BodyElement', 'name').limits).toEqual({ least: undefined, most: undefined, above: false });
    expect(fieldOf('Nothing', 'lengthMm').limits).toEqual({ least: undefined, most: undefined, above: false });
  });
});
