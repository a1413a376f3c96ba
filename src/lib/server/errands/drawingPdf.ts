import { LINES, type Drawing } from '@lodestone/core/drawing';
import PDFDocument from 'pdfkit';
import { finishedPdf, line, widthOf } from './pdf.ts';

const POINTS_PER_MM = 72 / 25.4;
const FONT_PER_CAPITAL = 1 / 0.72;

/** A workshop drawing as a PDF at full size. */
export function drawingPdf({ width, height, shapes }: Drawing, title: string): Promise<Uint8Array> {
  const doc = new PDFDocument({
    size: [width * POINTS_PER_MM, height * POINTS_PER_MM],
    margin: 0,
    info: { Title: title }
  });
  const finished = finishedPdf(doc);
  const x = (mm: number): number => mm * POINTS_PER_MM;
  const y = (mm: number): number => (height - mm) * POINTS_PER_MM;
  for (const shape of shapes) {
    if (shape.kind === 'line') {
      const { width: stroke, dash } = LINES[shape.style];
      doc.lineWidth(stroke * POINTS_PER_MM).strokeColor('#000000');
      if (dash.length > 0) doc.dash(dash[0]! * POINTS_PER_MM, { space: dash[1]! * POINTS_PER_MM });
      else doc.undash();
      doc.moveTo(x(shape.x1), y(shape.y1)).lineTo(x(shape.x2), y(shape.y2)).stroke();
      continue;
    }
    const size = shape.size * FONT_PER_CAPITAL * POINTS_PER_MM;
    const wide = widthOf(shape.text, size, 400);
    const shift = { start: 0, middle: wide / 2, end: wide }[shape.anchor];
    doc.save().translate(x(shape.x), y(shape.y)).rotate(-shape.turnDeg);
    doc.fillColor('#000000');
    line(doc, shape.text, -shift, -size * 0.9, size, 400, wide + 1);
    doc.restore();
  }
  doc.end();
  return finished;
}
