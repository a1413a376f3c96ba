import { formatLength, type LengthUnit } from '@lodestone/core/why';
import { portInWords } from '@lodestone/core/joint';
import { skyPort, cameraPort } from '@lodestone/core/train';
import { measuredOf, type Part } from '@lodestone/core/drawer';
import QRCode from 'qrcode';
import { line } from './pdf.ts';
import { decoration, newPdf, type Piece } from './structure.ts';

/** One label, and the A4 sheet they are cut from, points (1/72 in). */
const LABEL = { width: 178, height: 72, gap: 4 };
const MARGIN = 24;
const QR = 60;

/** A label’s upper left corner, points; what its code opens; how its length is written. */
interface Placed {
  x: number;
  y: number;
  address: string;
  unit: LengthUnit;
}

function drawLabel(doc: PDFKit.PDFDocument, root: Piece, part: Part, { x, y, address, unit }: Placed) {
  const { element, partId, location } = part;
  decoration(doc, () =>
    doc.lineWidth(0.4).strokeColor('#999999').roundedRect(x, y, LABEL.width, LABEL.height, 4).stroke()
  );
  const label = root.within('Sect');
  const { modules } = QRCode.create(address, { errorCorrectionLevel: 'M' });
  const cell = QR / modules.size;
  label.within('Figure', `Code that opens ${partId}: ${address}`).draw(() => {
    doc.fillColor('#000000');
    for (let row = 0; row < modules.size; row++) {
      for (let column = 0; column < modules.size; column++) {
        if (modules.get(row, column)) doc.rect(x + 6 + column * cell, y + 6 + row * cell, cell, cell);
      }
    }
    doc.fill();
  });
  const say = (text: string, down: number, size: number, weight: 400 | 600): void =>
    label.within('P').draw(() => line(doc, text, left, y + down, size, weight, width));
  const left = x + QR + 14;
  const width = LABEL.width - QR - 20;
  const ports = [skyPort(element), cameraPort(element)].flatMap((port) => (port ? [portInWords(port)] : []));
  const measured = measuredOf(part);
  const length = measured
    ? `${formatLength(measured.lengthMm, unit)} measured`
    : `${formatLength(element.lengthMm, unit)} published`;
  say(partId, 6, 13, 600);
  say(element.name, 22, 7.5, 400);
  say(length, 33, 7.5, 600);
  ports.slice(0, 2).forEach((port, index) => say(port, 43 + index * 9, 6.5, 400));
  say(location, 62, 6, 400);
}

/**
 * A4 sheets of labels, three to a row, each with a QR code that opens its part.
 *
 * @param origin address of the application as the owner's devices see it
 */
export function printLabels(parts: readonly Part[], origin: string, unit: LengthUnit): Promise<Uint8Array> {
  const { doc, finished, root } = newPdf('Labels', { size: 'A4' });
  const columns = Math.floor((doc.page.width - 2 * MARGIN + LABEL.gap) / (LABEL.width + LABEL.gap));
  const rows = Math.floor((doc.page.height - 2 * MARGIN + LABEL.gap) / (LABEL.height + LABEL.gap));
  parts.forEach((part, index) => {
    const place = index % (columns * rows);
    if (index > 0 && place === 0) doc.addPage();
    const x = MARGIN + (place % columns) * (LABEL.width + LABEL.gap);
    const y = MARGIN + Math.floor(place / columns) * (LABEL.height + LABEL.gap);
    drawLabel(doc, root, part, { x, y, address: `${origin}/drawer/${encodeURIComponent(part.partId)}`, unit });
  });
  doc.end();
  return finished;
}
