import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, it } from 'vitest';
import { readDrawer } from '../../core/src/drawer/index.ts';
import { ringDrawing } from '../../core/src/drawing/index.ts';
import { readTrain, type Train } from '../../core/src/train/index.ts';
import { assemblySheet } from '../../core/src/assembly/index.ts';
import { assemblyPdf } from '../../src/lib/server/errands/assemblyPdf.ts';
import { benchSheet } from '../../src/lib/server/errands/benchSheet.ts';
import { checkSheet } from '../../src/lib/server/errands/checkSheet.ts';
import { comparisonPdf } from '../../src/lib/server/errands/comparisonPdf.ts';
import { drawingPdf } from '../../src/lib/server/errands/drawingPdf.ts';
import { printLabels } from '../../src/lib/server/errands/labels.ts';
import { recordPdf } from '../../src/lib/server/errands/recordPdf.ts';
import type { LengthUnit } from '../../core/src/why/index.ts';
import { run } from './tools.ts';

const folder = mkdtempSync(join(tmpdir(), 'lodestone-interop-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const demo = (name: string): unknown =>
  JSON.parse(readFileSync(new URL(`../../demo/${name}.json`, import.meta.url), 'utf8'));
const train = (name: string): Train => {
  const reading = readTrain(demo(name));
  if (!reading.ok) throw new Error(`the demo’s ${name} is no train`);
  return reading.document;
};
const [heron, longTom] = [train('heron'), train('long-tom')];
const drawer = readDrawer(demo('drawer'));
const parts = drawer.ok ? drawer.document : [];

const record = { document: heron, number: 1, finishedAt: '2026-11-30T20:00:00Z', note: 'First light', revision: 3 };
const photo = readFileSync(new URL('../../docs/screenshots/build.png', import.meta.url));
const ring = {
  ...{ lengthMm: 7.625, toleranceMm: 0.004, clearMm: 44, outerMm: 54 },
  sky: { thread: 'M48x0.75', gender: 'female' } as const,
  camera: { thread: 'M48x0.75', gender: 'male' } as const
};

interface Sheet {
  print: (unit: LengthUnit) => Promise<Uint8Array>;
  title: string;
  /** Words that are to be found, in the order they are read out. */
  says: string[];
  bookmarks: number;
}
const SHEETS: Record<string, Sheet> = {
  assembly: {
    print: (unit) => assemblyPdf(heron, 'camera', unit),
    title: `Assembly: ${heron.name}`,
    says: [`Putting together ${heron.name}`, '1. ', '2. '],
    bookmarks: assemblySheet(heron, 'mm').length
  },
  'please check': {
    print: (unit) => checkSheet(heron, [], unit),
    title: `Please check: ${heron.name}`,
    says: ['Please check this train', 'Camera face', heron.elements[0]!.name.slice(0, 12)],
    bookmarks: 1
  },
  bench: {
    print: (unit) => benchSheet(longTom, parts, unit),
    title: `Bench sheet: ${longTom.name}`,
    says: [
      'bench sheet 1 of 1',
      'print it at 100 %',
      'This line is 100 mm long',
      longTom.elements[0]!.name.slice(0, 12)
    ],
    bookmarks: 1
  },
  comparison: {
    print: (unit) =>
      comparisonPdf({
        trains: [heron, longTom].map((each) => ({ title: each.name, train: each })),
        parts,
        counts: ['mass'],
        unit
      }),
    title: 'Comparison',
    says: ['Side by side', heron.name, longTom.name],
    bookmarks: 3
  },
  record: {
    print: (unit) => recordPdf(record as Parameters<typeof recordPdf>[0], [photo], unit, 'Asia/Tokyo'),
    title: `${heron.name}, as built`,
    says: [`${heron.name}, as built`, '1 Dec 2026, 05:00', 'First light', 'Published'],
    bookmarks: 2
  },
  labels: {
    print: (unit) => printLabels(parts.slice(0, 40), 'http://lodestone.example', unit),
    title: 'Labels',
    says: [],
    bookmarks: 0
  },
  ring: {
    print: () => drawingPdf(ringDrawing(ring, 'Ring 7.625'), 'Ring 7.625'),
    title: 'Ring 7.625',
    says: ['7.625 ±0.004 mm'],
    bookmarks: 0
  }
};

interface PdfObject {
  value?: Record<string, unknown>;
  stream?: { dict: Record<string, unknown> };
}

describe.each(Object.entries(SHEETS))('the sheet “%s”', (name, { print, title, says, bookmarks }) => {
  const file = join(folder, `${name}.pdf`);

  it('is a sound PDF that names title and language, its pieces tagged and all fonts in it', async () => {
    writeFileSync(file, await print('mm'));
    run('qpdf', ['--check', file]);
    const info = run('pdfinfo', [file]);
    expect(info).toMatch(new RegExp(`^Title:\\s+${title}$`, 'm'));
    expect(info).toMatch(/^Tagged:\s+yes$/m);
    const { qpdf } = JSON.parse(run('qpdf', ['--json', '--json-stream-data=none', file])) as {
      qpdf?: [unknown, Record<string, PdfObject>];
    };
    const all = qpdf?.[1] ?? {};
    const objects = Object.values(all).flatMap(({ value }) => (value ? [value] : []));
    const catalog = objects.find((each) => each['/Type'] === '/Catalog');
    expect(catalog?.['/Lang']).toBe('u:en');
    expect(all[`obj:${String(catalog?.['/MarkInfo'])}`]?.value).toEqual({ '/Marked': true });
    expect(
      run('pdffonts', [file])
        .split('\n')
        .slice(2)
        .filter((row) => row && !/ yes +\w+ +\w+ +\d+ +\d+ *$/.test(row))
    ).toEqual([]);
    // What is no text has words.
    const figures = objects.filter((each) => each['/S'] === '/Figure');
    for (const figure of figures) expect(String(figure['/Alt']).length).toBeGreaterThan(10);
    expect(objects.filter((each) => each['/Parent'] !== undefined && each['/Title'] !== undefined)).toHaveLength(
      bookmarks
    );
  });

  it('reads out in its order', () => {
    const text = run('pdftotext', ['-raw', file, '-']).replace(/\s+/g, ' ');
    let from = 0;
    for (const words of says) {
      const at = text.indexOf(words.trim(), from);
      expect(at, `${words} in ${text.slice(0, 300)}`).toBeGreaterThanOrEqual(0);
      from = at + words.length;
    }
    // As a reader of structure tells it: a title first, then its pieces.
    const structure = run('pdfinfo', ['-struct-text', file]);
    expect(structure).toMatch(/^Document/);
    if (says.length > 0) expect(structure.replace(/\s+/g, ' ')).toContain(says[0]!.split(' ')[0]);
  });
});

/** What a maker works to is drawn in millimetres whatever its owner reads. */
const inOwnUnit = Object.entries(SHEETS).filter(([name]) => name !== 'ring');

it.each(inOwnUnit)('the sheet “%s” is in inches for whoever reads inches', async (name, { print }) => {
  const file = join(folder, `${name} in inches.pdf`);
  writeFileSync(file, await print('in'));
  const text = run('pdftotext', ['-raw', file, '-']).replace(/\s+/g, ' ');
  expect(text).toMatch(/\d\.\d{3,} in\b/);
  expect(text).not.toMatch(/\d\.\d+ mm\b/);
});

it('every code of a sheet of labels opens its part', () => {
  run('pdftoppm', ['-r', '300', '-png', join(folder, 'labels.pdf'), join(folder, 'label')]);
  const pages = [1, 2].map((page) => join(folder, `label-${page}.png`));
  const read = run('zbarimg', ['--quiet', '--raw', '-Sdisable', '-Sqrcode.enable', ...pages]);
  const wanted = parts
    .slice(0, 40)
    .map(({ partId }) => `http://lodestone.example/drawer/${encodeURIComponent(partId)}`);
  expect(read.trim().split('\n').sort()).toEqual(wanted.sort());
});
