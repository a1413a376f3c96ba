import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { ringDrawing, variantsDrawing, writeDxf, writeStl, writeSvg } from '../../core/src/drawing/index.ts';
import type { RingSpec } from '../../core/src/finder/index.ts';
import { drawingPdf } from '../../src/lib/server/errands/drawingPdf.ts';
import { benchSheet } from '../../src/lib/server/errands/benchSheet.ts';
import { readTrain } from '../../core/src/train/index.ts';
import { python, run } from './tools.ts';

const folder = mkdtempSync(join(tmpdir(), 'lodestone-interop-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

interface Box {
  left: number;
  bottom: number;
  width: number;
  height: number;
}
interface DxfRead {
  errors: string[];
  unit: string;
  layers: Record<string, Box & { linetype: string; entities: number }>;
  texts: string[];
}
interface SvgRead {
  paper: [number, number];
  groups: Record<string, Box>;
  texts: string[];
}
interface PdfRead {
  paper: [number, number];
  /** Stroke’s width, then x and y of both ends, mm. */
  lines: [number, number, number, number, number][];
  /** Left, top, width and height, mm. */
  boxes: [number, number, number, number][];
}

const ring = (lengthMm: number, outerMm: number, threadMm: number, clearMm: number, toleranceMm = 0.02): RingSpec => ({
  lengthMm,
  toleranceMm,
  sky: { thread: `M${threadMm}x0.75`, gender: 'female', lengthMm: Math.min(4, lengthMm / 2) },
  camera: { thread: `M${threadMm}x0.75`, gender: 'male', lengthMm: Math.min(3.6, lengthMm / 2) },
  clearMm,
  outerMm
});

/** Rings whose sheets have every scale from 10:1 to 1:5. */
const RINGS: readonly [scale: string, spec: RingSpec][] = [
  ['10:1', ring(3.125, 9, 7, 4)],
  ['5:1', ring(7.625, 18, 15, 11, 0.004)],
  ['2:1', ring(17.3, 45, 42, 38)],
  ['1:1', ring(12.7, 90, 82, 76)],
  ['1:2', ring(31.417, 130, 120, 110, 0.01)],
  ['1:5', ring(60, 300, 280, 270)]
];

describe.each(RINGS)('the drawing of a ring at %s', (scale, spec) => {
  const drawing = ringDrawing(spec, 'Ring');
  const whole = spec.lengthMm + (spec.camera as { lengthMm: number }).lengthMm;
  const [drawn, real] = scale.split(':').map(Number) as [number, number];
  const file = (kind: string): string => join(folder, `${scale.replace(':', '-')}.${kind}`);
  const read = <T>(name: string): T => (JSON.parse(python('drawings.py', name)) as T[])[0]!;

  it('is 1:1 in the model space of its DXF, with nothing for an auditor to complain of', () => {
    writeFileSync(file('dxf'), writeDxf(drawing));
    const { errors, unit, layers, texts } = read<DxfRead>(file('dxf'));
    expect(errors).toEqual([]);
    expect(unit).toBe('mm');
    const { OUTLINE: outline, CENTRE: centre } = layers;
    expect(outline!.width).toBeCloseTo(whole, 4);
    expect(outline!.height).toBeCloseTo(spec.outerMm, 4);
    // The sky side’s shoulder is at 0, the axis as well.
    expect(outline!.left).toBeCloseTo(0, 4);
    expect(outline!.bottom).toBeCloseTo(-spec.outerMm / 2, 4);
    expect([centre!.linetype, centre!.height]).toEqual(['CENTRE', 0]);
    // The detail apart is as large as its original.
    const detail = layers.DETAIL_OUTLINE;
    if (detail) {
      expect(detail.height).toBeCloseTo((spec.outerMm - spec.clearMm) / 2, 4);
      expect(detail.left).toBeGreaterThan(outline!.left + outline!.width);
    }
    expect(texts.some((text) => /\d:\d/.test(text))).toBe(false);
  });

  it('is to its scale on an SVG of true size, which rsvg shows', () => {
    writeFileSync(file('svg'), writeSvg(drawing));
    const { paper, groups, texts } = read<SvgRead>(file('svg'));
    expect(paper).toEqual([297, 210]);
    expect(texts).toContain(`Scale ${scale}`);
    expect((groups['part-outline']!.width * real) / drawn).toBeCloseTo(whole, 3);
    expect((groups['part-outline']!.height * real) / drawn).toBeCloseTo(spec.outerMm, 3);
    run('rsvg-convert', ['--output', file('png'), file('svg')]);
  });

  it('and on a PDF', async () => {
    writeFileSync(file('pdf'), await drawingPdf(drawing, 'Ring'));
    run('qpdf', ['--check', file('pdf')]);
    run('qpdf', ['--qdf', '--object-streams=disable', file('pdf'), file('qdf')]);
    const { paper, lines } = read<PdfRead>(file('qdf'));
    expect(paper[0]).toBeCloseTo(297, 3);
    const inside = (x: number, y: number): boolean => x > 11 && x < 286 && y > 11 && y < 150;
    // Of the part: outlines left of its detail, which begins at 170 mm, and within the frame.
    const outline = lines.filter(
      ([wide, x1, y1, x2, y2]) => wide > 0.4 && inside(x1, y1) && inside(x2, y2) && Math.max(x1, x2) < 170
    );
    const xs = outline.flatMap(([, x1, , x2]) => [x1, x2]);
    const ys = outline.flatMap(([, , y1, , y2]) => [y1, y2]);
    const size = (places: number[]): number => ((Math.max(...places) - Math.min(...places)) * real) / drawn;
    expect(size(xs)).toBeCloseTo(whole, 3);
    expect(size(ys)).toBeCloseTo(spec.outerMm, 3);
    expect(run('pdftotext', ['-layout', file('pdf'), '-'])).toContain(`Scale ${scale}`);
  });

  it('its solid is closed, and as long and wide as the ring', () => {
    writeFileSync(file('stl'), writeStl(spec, 'ring'));
    const told = run('admesh', [file('stl')]);
    const number = (name: string): number => Number(new RegExp(`${name}\\s*[:=]\\s*([-\\d.]+)`).exec(told)![1]);
    expect(number('Max Z') - number('Min Z')).toBeCloseTo(whole, 3);
    expect(number('Max X') - number('Min X')).toBeCloseTo(spec.outerMm, 3);
    expect([number('Degenerate facets'), number('Facets reversed'), number('Backwards edges')]).toEqual([0, 0, 0]);
    expect(told).toMatch(/Total disconnected facets\s*:\s*0\s+0/);
  });
});

describe('a part with screws and a flange', () => {
  const bolted: RingSpec = {
    ...ring(12, 70, 54, 46),
    sky: { bolts: { count: 4, circleMm: 62 } },
    screws: { sky: { thread: 'M2', hole: 'tapped' } },
    flanges: { sky: { bayonet: 'dslr-44.0', gender: 'male', thicknessMm: 3.2 } }
  };
  const read = <T>(name: string): T => (JSON.parse(python('drawings.py', name)) as T[])[0]!;

  it('has its front and its section 1:1 in the model space of its DXF', () => {
    const file = join(folder, 'bolted.dxf');
    writeFileSync(file, writeDxf(ringDrawing(bolted, 'Flange')));
    const { errors, layers } = read<DxfRead>(file);
    expect(errors).toEqual([]);
    expect(layers.OUTLINE!.height).toBeCloseTo(70, 4);
    // A circle of short lines is narrower than its diameter by less than a tenth.
    expect(layers.FRONT_OUTLINE!.width).toBeGreaterThan(69.9);
    expect(layers.FRONT_OUTLINE!.width).toBeLessThanOrEqual(70.0001);
    // The flange is what lies before the shoulder of the sky side.
    expect(layers.CENTRE!.left).toBeLessThanOrEqual(-3.2);
  });

  it('and its variants stand on one sheet that others read', async () => {
    const drawing = variantsDrawing(
      [
        { name: 'with the wheel', spec: bolted },
        { name: 'without it', spec: { ...bolted, lengthMm: 33 } }
      ],
      'Flange'
    );
    const [svg, pdf] = ['variants.svg', 'variants.pdf'].map((name) => join(folder, name)) as [string, string];
    writeFileSync(svg, writeSvg(drawing));
    const { groups, texts } = read<SvgRead>(svg);
    expect(texts).toContain('Scale 1:1');
    expect(groups['part-outline']!.height).toBeCloseTo(70, 3);
    writeFileSync(pdf, await drawingPdf(drawing, 'Flange'));
    run('qpdf', ['--check', pdf]);
    const words = run('pdftotext', ['-layout', pdf, '-']);
    for (const text of ['12.00', '33.00', 'with the wheel', 'without it', '15.20']) expect(words).toContain(text);
  });
});

it('every figure has the decimals its tolerance needs', () => {
  const texts = (spec: RingSpec): string[] =>
    ringDrawing(spec, '').shapes.flatMap((shape) => (shape.kind === 'text' ? [shape.text] : []));
  expect(texts(ring(7.625, 18, 15, 11, 0.004))).toContain('7.625 ±0.004 mm, shoulder to shoulder');
  expect(texts(ring(7.6, 18, 15, 11, 0.05))).toContain('7.60 ±0.05 mm, shoulder to shoulder');
});

describe('the bench sheet', () => {
  it('has a line of 100 mm, and every part as long as it is', async () => {
    const demo = JSON.parse(readFileSync(new URL('../../demo/long-tom.json', import.meta.url), 'utf8')) as unknown;
    const reading = readTrain(demo);
    if (!reading.ok) throw new Error('the demo is no train');
    const [pdf, qdf] = ['bench.pdf', 'bench.qdf'].map((name) => join(folder, name)) as [string, string];
    writeFileSync(pdf, await benchSheet(reading.document, [], 'mm'));
    run('qpdf', ['--check', pdf]);
    run('qpdf', ['--qdf', '--object-streams=disable', pdf, qdf]);
    const { paper, lines, boxes } = (JSON.parse(python('drawings.py', qdf)) as PdfRead[])[0]!;
    expect(paper[0]).toBeCloseTo(297, 0);
    const checks = lines.filter(([, x1, y1, x2, y2]) => y1 === y2 && Math.abs(x2 - x1 - 100) < 0.01);
    expect(checks).toHaveLength(1);
    for (const element of reading.document.elements) {
      if (element.kind === 'gap' || element.kind === 'camera' || element.kind === 'shim') continue;
      // Rings that are drawn in pieces are as long together; those in one say it themselves.
      const { measured, lengthMm } = element;
      const long = measured?.lengthMm ?? lengthMm;
      expect(boxes.some(([, , width]) => Math.abs(width - long) < 0.02)).toBe(true);
    }
  });
});
