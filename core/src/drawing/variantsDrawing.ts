import type { RingSpec } from '../finder/ring.ts';
import { formatWithin, plainMm } from '../why/wording.ts';
import { drawRing, extentOf, flangesInWords, overallMm } from './drawRing.ts';
import { lengthAbove, ringDrawing } from './ringDrawing.ts';
import type { Drawing, View } from './shapes.ts';
import { FRAME_MM, SCALES, Sheet, SHEET, titleBlock, wrapped } from './sheet.ts';
import { turnedFaces } from './turned.ts';

/** One variant of a part: what it is for, and what is turned. */
export interface Variant {
  name: string;
  spec: RingSpec;
}

/** Between two parts beside each other, over them for their lengths, and under them, mm on the sheet. */
const BETWEEN_MM = 28;
const OVER_MM = 24;
const UNDER_MM = 6;

/** Columns of the table: what each is headed, and how wide it is, mm. */
const COLUMNS = [
  ['', 8],
  ['for', 56],
  ['length', 35],
  ['with flange', 22],
  ['sky side', 58],
  ['camera side', 58],
  ['clear', 15],
  ['outer', 15]
] as const;

const CELL_MM = 2.6;
const LEADING_MM = 4.6;
const letterOf = (index: number): string => String.fromCharCode(65 + index);

/** The cells of a variant's row. */
function cellsOf({ name, spec }: Variant, index: number): string[] {
  const { s, c } = turnedFaces(spec);
  const { sky, camera } = flangesInWords(spec);
  return [
    letterOf(index),
    name,
    formatWithin(spec.lengthMm, spec.toleranceMm, 'mm'),
    sky || camera ? plainMm(overallMm(spec)) : '',
    sky ? `${sky} on ${s.callout}` : s.callout,
    camera ? `${camera} on ${c.callout}` : c.callout,
    `Ø${spec.clearMm}`,
    `Ø${spec.outerMm}`
  ];
}

/** The table of the variants over the title block; where it ends, mm. */
function table(sheet: Sheet, variants: readonly Variant[], bottomMm: number): number {
  const rows = [COLUMNS.map(([head]) => head as string), ...variants.map(cellsOf)].map((cells) =>
    cells.map((cell, at) => wrapped(cell, CELL_MM, COLUMNS[at]![1] - 2))
  );
  let y = bottomMm;
  for (const row of rows.toReversed()) {
    const height = Math.max(...row.map((lines) => lines.length)) * LEADING_MM + 2;
    let x = FRAME_MM + 5;
    row.forEach((lines, at) => {
      lines.forEach((words, line) =>
        sheet.text([x, y + height - 1 - CELL_MM - line * LEADING_MM], words, 'start', 0, CELL_MM)
      );
      x += COLUMNS[at]![1];
    });
    y += height;
    sheet.line('thin', FRAME_MM, y, SHEET.width - FRAME_MM, y);
  }
  return y;
}

/** The drawing of a part: of one by itself with all its details, of several side by side. */
export const workshopDrawing = (variants: readonly Variant[], title: string): Drawing =>
  variants.length === 1 ? ringDrawing(variants[0]!.spec, title) : variantsDrawing(variants, title);

/** The parts in a row at a scale, their axes in one line; where the sky shoulder of the first lies. */
function row(sheet: Sheet, variants: readonly Variant[], scale: number, axisY: number): View {
  sheet.view = 'part';
  const wholes = variants.map(({ spec }) => extentOf(spec));
  const usedMm = wholes.reduce((sum, { tip, end }) => sum + (end - tip) * scale, BETWEEN_MM * (variants.length - 1));
  let left = (SHEET.width - usedMm) / 2;
  const origins = variants.map(({ spec }, index) => {
    const { tip, end } = wholes[index]!;
    const from = left;
    const x = (mm: number): number => from + (mm - tip) * scale;
    const y = (mm: number): number => axisY + mm * scale;
    drawRing(sheet, spec, { x, y });
    const top = y(spec.outerMm / 2);
    lengthAbove(sheet, [x(0), x(spec.lengthMm)], top, top + 8);
    sheet.text([(x(0) + x(spec.lengthMm)) / 2, top + 10], plainMm(spec.lengthMm), 'middle');
    sheet.text([(x(0) + x(spec.lengthMm)) / 2, top + 15.5], letterOf(index), 'middle', 0, 4.5);
    left += (end - tip) * scale + BETWEEN_MM;
    return x(0);
  });
  sheet.view = 'sheet';
  return { scale, x: origins[0] ?? 0, y: axisY };
}

/**
 * Variants of one part side by side on one A4 sheet, at one scale, their axes in one line, with a table of what differs.
 *
 * @param variants one to five
 */
export function variantsDrawing(variants: readonly Variant[], title: string): Drawing {
  // How high the table is follows from its words; what remains is for the parts.
  const scratch = new Sheet();
  const tableTop = table(scratch, variants, titleBlock(scratch, title, 1));
  const highMm = SHEET.height - FRAME_MM - OVER_MM - UNDER_MM - tableTop;
  const wholeMm = variants.reduce((sum, { spec }) => sum + extentOf(spec).end - extentOf(spec).tip, 0);
  const widestMm = Math.max(...variants.map(({ spec }) => spec.outerMm));
  const roomMm = SHEET.width - 2 * FRAME_MM - BETWEEN_MM * variants.length;
  const scale = SCALES.find((each) => each * widestMm <= highMm && each * wholeMm <= roomMm) ?? SCALES.at(-1)!;

  const sheet = new Sheet();
  sheet.view = 'sheet';
  table(sheet, variants, titleBlock(sheet, title, scale));
  const part = row(sheet, variants, scale, tableTop + UNDER_MM + highMm / 2);
  return { ...SHEET, shapes: sheet.shapes, views: { part } };
}
