import { assess } from '@lodestone/core/check';
import { measuredOf, type Part } from '@lodestone/core/drawer';
import { portInWords } from '@lodestone/core/joint';
import { benchPages, layoutOf, partShapes, type BenchPage, type LayoutItem } from '@lodestone/core/shape';
import { cameraPort, isCamera, isSolid, lengthOf, partIdOf, skyPort, type Train } from '@lodestone/core/train';
import { formatLength, type LengthUnit } from '@lodestone/core/why';
import { Page } from './page.ts';
import { line } from './pdf.ts';
import { drawShapes } from './shapesPdf.ts';

/** Points of the paper for a millimetre. */
const PT = 72 / 25.4;
/** Length of a train that a sheet of A4 across holds, mm. */
const ROOM_MM = 268;
/** So high is the picture at the least, mm, where the rows want the room: what is wider is cut, and its row says so. */
const LEAST_HIGH_MM = 76;
/** Room of a row, points. */
const ROW_PT = 16.5;
const RULE_MM = 100;
const TICK_MM = 3;
/** Numbers stand over their parts in so many lines, since thin rings lie close. */
const LINES = 3;
const LINE_MM = 4;

/**
 * A train at its true size over as many sheets as it takes, to lay the real parts on: each with its number, faces, length
 * and tin.
 *
 * @param parts of the drawer that stand in it: they know their tins, and what was measured
 */
export function benchSheet(train: Train, parts: readonly Part[], unit: LengthUnit): Promise<Uint8Array> {
  const page = new Page(`Bench sheet: ${train.name}`, 'landscape');
  const layout = layoutOf(train, assess(train).ledger);
  const items = layout.items.filter(({ kind }) => kind !== 'gap');
  const sheets = benchPages(items, ROOM_MM);
  const owned = new Map(parts.map((part) => [part.partId, part]));
  const columns = [24, 262, 216, 118, page.width - 620] as const;
  for (const [index, sheet] of sheets.entries()) {
    if (index > 0) page.room(Infinity);
    page.bookmark(`Sheet ${index + 1}`);
    page.title(`${train.name}: bench sheet ${index + 1} of ${sheets.length}`);
    if (index === 0) {
      page.say('At true size: print it at 100 %. Telescope on the left. Lay each part on its outline.');
    }
    checkLine(page);
    const highMm = drawSheet(page, items, sheet);
    page.row(['', 'Part', 'Faces', 'Length', 'Kept in'], columns, 600);
    for (const at of sheet.parts) page.row(rowOf(train, items[at]!, { at, highMm, owned, unit }), columns);
  }
  return page.end();
}

/** A line of 100 mm, to see whether the printer kept the size. */
function checkLine(page: Page): void {
  const { doc, left } = page;
  page.gap(6);
  page.figure(`A line of ${RULE_MM} mm to check the printer by`, () => {
    const [y, right] = [page.y + TICK_MM * PT, left + RULE_MM * PT];
    doc.lineWidth(0.6).strokeColor('#000000');
    doc.moveTo(left, y).lineTo(right, y).stroke();
    for (const x of [left, right]) {
      doc
        .moveTo(x, y - TICK_MM * PT)
        .lineTo(x, y + TICK_MM * PT)
        .stroke();
    }
    doc.fillColor('#000000');
    line(
      doc,
      `This line is ${RULE_MM} mm long. If the ruler shows another length, print it again at 100 %.`,
      right + 10,
      y - 4,
      8,
      400,
      420
    );
  });
  page.gap(2 * TICK_MM * PT + 6);
}

/** @returns height of the picture, mm */
function drawSheet(page: Page, items: readonly LayoutItem[], sheet: BenchPage): number {
  const { doc, left } = page;
  const on = sheet.parts.map((at) => items[at]!);
  const wantedMm = 2 * (Math.max(...on.map(({ outerRadiusMm }) => outerRadiusMm)) + 1);
  const numbersMm = LINES * LINE_MM + 2;
  const leftMm = (page.roomLeft - ROW_PT * (sheet.parts.length + 1) - 10) / PT - numbersMm;
  const highMm = Math.min(wantedMm, Math.max(LEAST_HIGH_MM, leftMm));
  const top = page.y + numbersMm * PT;
  const axis = top + (highMm / 2) * PT;
  const x = (mm: number): number => left + (mm - sheet.fromMm) * PT;
  page.figure(`Outlines at true size: ${on.map(({ name }) => name).join(', ')}`, () => {
    doc.save();
    doc.rect(left, top, ROOM_MM * PT, highMm * PT).clip();
    for (const item of on) {
      drawShapes(doc, partShapes(item), { x, y: (mm) => axis - mm * PT, heavy: false });
    }
    doc.lineWidth(0.4).strokeColor('#000000').dash(6, { space: 3 });
    doc.moveTo(left, axis).lineTo(x(sheet.toMm), axis).stroke().undash();
    doc.restore();
    for (const [order, at] of sheet.parts.entries()) {
      const item = items[at]!;
      const middle = x((Math.max(item.fromMm, sheet.fromMm) + Math.min(item.toMm, sheet.toMm)) / 2);
      const y = page.y + (order % LINES) * LINE_MM * PT;
      doc.lineWidth(0.25).strokeColor('#666666');
      doc
        .moveTo(middle, y + 9)
        .lineTo(middle, Math.max(top, axis - item.outerRadiusMm * PT))
        .stroke();
      doc.fillColor('#000000');
      line(doc, String(at + 1), middle - 3, y, 8, 600, 20);
    }
  });
  page.gap((numbersMm + highMm) * PT + 8);
  return highMm;
}

function rowOf(
  train: Train,
  { id, name, outerRadiusMm }: LayoutItem,
  { at, highMm, owned, unit }: { at: number; highMm: number; owned: ReadonlyMap<string, Part>; unit: LengthUnit }
): string[] {
  const element = train.elements.find((each) => each.id === id)!;
  const partId = partIdOf(element);
  const part = partId === undefined ? undefined : owned.get(partId);
  const ports = isCamera(element) ? [skyPort(element)] : [skyPort(element), cameraPort(element)];
  const faces = ports.map((port) => (port ? portInWords(port) : 'not stated'));
  const measured = part && measuredOf(part);
  const length = !isSolid(element)
    ? ''
    : measured
      ? `${formatLength(measured.lengthMm, unit)} measured`
      : `${formatLength(lengthOf(element), unit)} published`;
  const cut = 2 * outerRadiusMm > highMm ? `, ${formatLength(2 * outerRadiusMm, unit, 0)} wide: cut` : '';
  return [
    String(at + 1),
    `${[partId, name].filter(Boolean).join(' ')}${cut}`,
    faces.join(' to '),
    length,
    part?.location ?? (partId === undefined ? '' : 'not in the drawer')
  ];
}
